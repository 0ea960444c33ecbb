import { windowRoute } from '../../../../../server/window-route'
import { requireCheck } from '@/store/checks'
import { database } from '@/store/database'

export const dynamic = 'force-dynamic'

export const { PUT, DELETE } = windowRoute('check', async (key) => ({ id: (await requireCheck(database(), key)).id, key }))
