import { checkTurn } from '../../../../../server/check-turn'
import { setMuted } from '@/store/checks'

export const dynamic = 'force-dynamic'

export const { PUT, DELETE } = checkTurn(setMuted)
