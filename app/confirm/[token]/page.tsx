import { ConfirmHere } from '@/ui/forms/entry'
import { settings } from '../../server/session'

export const metadata = { title: 'Confirm' }

/** Where the link beside a code leads: someone who has no account confirms their address with one press. */
export default async function Confirm({ params }: { params: Promise<{ token: string }> }) {
  return <ConfirmHere token={(await params).token} workspace={(await settings()).name} />
}
