import { database } from '@/store/database'
import { listLocations } from '@/store/locations'
import { listServices } from '@/store/services'

/** What the editor offers to choose from. */
export async function editorChoices() {
  const [locations, services] = await Promise.all([listLocations(database()), listServices(database())])
  return {
    locations: locations.map(({ key, place, network }) => ({ key, place, network })),
    services: services.map(({ key, name, stage }) => ({ key, name: `${name}, ${stage}` }))
  }
}

