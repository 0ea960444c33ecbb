import { judgeMembers } from '../../core/derived/judge-members'
import { STATE_NAMES } from '../../core/states/check-state'
import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { derivedDefinition } from './definition'

export const derivedRunner = runnerOf(derivedDefinition, async ({ of, least, warn, weights = {} }, trying) => {
  const { members } = await trying.inside({ members: of })
  const judged = judgeMembers({ least, weights, ...(warn === undefined ? {} : { warn }) }, members)
  const { verdict, sentence, good, bad, open } = judged
  Object.assign(trying.readings, { good, bad, open })
  const down = members.filter((member) => member.state === 'down').map((member) => member.name)
  trying.evidence.tables = [{
    title: 'The checks', columns: [{ name: 'check' }, { name: 'state' }, { name: 'since', as: 'moment' }, { name: 'weight', as: 'number' }],
    rows: members.map((member) => [member.name, STATE_NAMES[member.state], member.since, weights[member.key] ?? 1])
  }]
  if (verdict === 'unknown') throw new TryFailure('cannot-tell', sentence)
  if (verdict === 'fail') throw new TryFailure('too-few-up', sentence)
  if (verdict === 'warn') return { said: { verdict, reason: 'too-few-up', sentence } }
  return { facts: { down } }
})
