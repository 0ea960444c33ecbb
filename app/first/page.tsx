import { redirect } from 'next/navigation'
import { database } from '@/store/database'
import { countPeople } from '@/store/people'
import { FirstAccount } from '@/ui/forms/entry'

export const metadata = { title: 'The first account' }

export default async function Page() {
  if ((await countPeople(database())) > 0) redirect('/sign-in')
  return <FirstAccount />
}
