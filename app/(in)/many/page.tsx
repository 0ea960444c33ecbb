import { speakService } from '@/core/definitions/service'
import { normalised } from '@/core/many/read-addresses'
import { database } from '@/store/database'
import { listServices } from '@/store/world'
import { ManyGrid } from '@/ui/many/many-grid'
import { SubNav } from '@/ui/shell/sub-nav'
import { allChecks } from '../../server/definitions'

export const metadata = { title: 'Many at once' }

export default async function Many() {
  const [services, checks] = await Promise.all([listServices(database()), allChecks()])
  return (
    <>
      <SubNav />
      <ManyGrid services={services.map((service) => ({ key: service.key, name: speakService(service), judges: ((service.document.pass ?? []) as unknown[]).length > 0 }))} standing={checks.map((stored) => [normalised(stored.address), stored.check.name])} />
    </>
  )
}
