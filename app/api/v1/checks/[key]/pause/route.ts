import { checkTurn } from '../../../../../server/check-turn'
import { setPaused } from '@/store/checks'

export const dynamic = 'force-dynamic'

export const { PUT, DELETE } = checkTurn(setPaused)
