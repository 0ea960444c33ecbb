import { incidentAct } from '../../../../../server/incident-act'

export const dynamic = 'force-dynamic'

export const POST = incidentAct('follow-up')
