import { speakService } from '@/core/definitions/service'
import { database } from '@/store/database'
import { listServices } from '@/store/world'
import { ImportForm } from '@/ui/import/import-form'
import { SubNav } from '@/ui/shell/sub-nav'
import { allChecks } from '../../server/definitions'

export const metadata = { title: 'Import a file' }

export default async function Import() {
  const [services, checks] = await Promise.all([listServices(database()), allChecks()])
  return <><SubNav /><ImportForm services={services.map((service) => ({ key: service.key, name: speakService(service) }))} taken={checks.map((stored) => stored.check.key)} /></>
}
