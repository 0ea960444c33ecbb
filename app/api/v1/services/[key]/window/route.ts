import { windowRoute } from '../../../../../server/window-route'
import { database } from '@/store/database'
import { requireService } from '@/store/define-one'

export const dynamic = 'force-dynamic'

export const { PUT, DELETE } = windowRoute('service', (key) => requireService(database(), key))
