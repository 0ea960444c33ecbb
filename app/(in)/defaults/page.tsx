import { database } from '@/store/database'
import { listSecrets } from '@/store/secrets'
import { workspaceDefinition } from '@/store/world'
import { DefaultsForm } from '@/ui/services/defaults-form'
import { editorChoices } from '../../server/editor'

export const metadata = { title: 'Defaults' }

export default async function Defaults() {
  const [workspace, choices, secrets] = await Promise.all([workspaceDefinition(database()), editorChoices(), listSecrets(database())])
  const declared = (workspace.document.secrets ?? []) as string[]
  return (
    <>
      <h1>What every check begins with.</h1>
      <p className="quiet" style={{ margin: '4px 0 10px' }}>A service says it otherwise for its checks, and a check for itself; what neither says comes from here.</p>
      <DefaultsForm key={workspace.version} document={workspace.document} version={workspace.version} choices={choices} secrets={declared.map((name) => ({ name, set: secrets.some((each) => each.place === 'workspace' && each.name === name) }))} />
    </>
  )
}
