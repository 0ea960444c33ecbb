import { checkTurn } from '../../../../../server/check-turn'

export const dynamic = 'force-dynamic'

export const { PUT, DELETE } = checkTurn('mute')
