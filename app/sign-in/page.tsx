import { redirect } from 'next/navigation'
import { database } from '@/store/database'
import { countPeople } from '@/store/people'
import { SignIn } from '@/ui/forms/entry'
import { personOfRequest, settings } from '../server/session'

export const metadata = { title: 'Sign in' }

export default async function Page() {
  if (await personOfRequest()) redirect('/')
  if ((await countPeople(database())) === 0) redirect('/first')
  return <SignIn name={(await settings()).name} />
}
