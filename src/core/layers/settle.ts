import { conditionSchema } from '../conditions/condition-schema'
import { subjectIn } from '../conditions/subject'
import { subjectsOf } from '../conditions/subjects'
import type { Check, CheckDocument } from '../definitions/check'
import { checkSchema } from '../definitions/check-schema'
import type { Kinds } from '../definitions/kind'
import { problemsOf } from '../definitions/problems-of'
import { acceptedCheck } from '../definitions/read-check'
import type { ServiceDocument, WorkspaceDocument } from '../definitions/service'
import type { Problem } from '../problems'
import { inherit, type Effective } from './inherit'
import { refersToVariables, resolveVariables, type VariableLayer, type VariableOrigin, type VariableValue } from './variables'

/** What stands around a check: its service and the workspace, with the secrets of each place. */
export interface Surroundings {
  service?: ServiceDocument
  workspace: WorkspaceDocument
  /** Values of secrets by place and name; a name without a value may be missing here. */
  secrets: Partial<Record<VariableOrigin, Record<string, string>>>
  /** Values for one run, which count before all others. */
  run?: Record<string, string>
}

export interface Settled extends Effective {
  /** As sentences say it: inherited values filled in, variables still by their names. */
  check: Check
  /** As it runs: every variable in place, secrets too. */
  resolved: CheckDocument
  used: VariableValue[]
}

/** The layers of variables of a check, nearest first. */
export function variableLayers(own: CheckDocument, { service, workspace, secrets, run }: Surroundings): VariableLayer[] {
  const layer = (from: VariableOrigin, document: Record<string, unknown>): VariableLayer => ({
    from, variables: isObject(document.variables) ? (document.variables as Record<string, string>) : {},
    secrets: Object.fromEntries((Array.isArray(document.secrets) ? (document.secrets as string[]) : []).map((name) => [name, secrets[from]?.[name]]))
  })
  return [
    ...(run ? [{ from: 'run' as const, variables: run, secrets: {} }] : []), layer('check', own), ...(service ? [layer('service', service)] : []), layer('workspace', workspace)
  ]
}

/**
 * Puts a check together from its own document, its service and the workspace: inherited values, then variables.
 * Says everything that is wrong, with paths in the check's own document.
 */
export function settleCheck(own: unknown, surroundings: Surroundings, kinds: Kinds): { settled: Settled } | { problems: Problem[] } {
  const document = isObject(own) ? (own as CheckDocument) : undefined
  if (!document) return { problems: problemsOf(checkSchema(kinds, true) as never, own) }
  const layers = variableLayers(document, surroundings)
  const fields = [...Object.keys(kinds).filter((kind) => document[kind] !== undefined), 'pass']
  const mine = resolveFields(document, fields, layers)
  const problems = [...mine.problems, ...withoutUnresolved(problemsOf(checkSchema(kinds, true) as never, mine.document), mine.problems)]
  if (problems.length > 0) return { problems }
  const effective = inherit(document, surroundings.service, surroundings.workspace, suits(document, kinds))
  const whole = resolveFields(effective.document, fields, layers)
  const rest = [...whole.problems, ...withoutUnresolved(problemsOf(checkSchema(kinds) as never, whole.document), whole.problems)]
  if (rest.length > 0) return { problems: rest.map((problem) => ({ ...problem, path: ownPath(problem.path, effective) })) }
  return { settled: settled(effective, whole.document, whole.used, kinds) }
}

/** Whether a common condition of a service means something for a check of this kind; a ping has no status. */
function suits(document: CheckDocument, kinds: Kinds): (condition: Record<string, unknown>) => boolean {
  const kind = Object.keys(kinds).find((each) => document[each] !== undefined)
  const subjects = subjectsOf(kinds, kind)
  const target = kind === undefined ? undefined : document[kind]
  const lacks: readonly string[] = isObject(target) ? kinds[kind!]!.lacks?.(target) ?? [] : []
  return (condition) => {
    const subject = subjectIn(condition, subjects)
    return subject !== undefined && !lacks.includes(subject)
  }
}

/** Settles what was validated when it was stored; a variable that has gone missing since is said in `problems`. */
export function acceptedSettled(own: CheckDocument, surroundings: Surroundings, kinds: Kinds): { settled: Settled; problems: Problem[] } {
  const effective = inherit(own, surroundings.service, surroundings.workspace, suits(own, kinds))
  const fields = [...Object.keys(kinds).filter((kind) => own[kind] !== undefined), 'pass']
  const whole = resolveFields(effective.document, fields, variableLayers(own, surroundings))
  return { settled: settled(effective, whole.document, whole.used, kinds), problems: whole.problems }
}

function settled(effective: Effective, resolved: CheckDocument, used: VariableValue[], kinds: Kinds): Settled {
  // a condition whose limits are variables can only be said with their values
  const schema = conditionSchema(subjectsOf(kinds))
  const pass = (effective.document.pass as unknown[]).map((written, index) =>
    refersToVariables(written) && problemsOf(schema as never, written).length > 0 ? (resolved.pass as unknown[])[index] : written)
  return { ...effective, check: acceptedCheck({ ...effective.document, pass }, kinds), resolved, used }
}

function resolveFields(document: CheckDocument, fields: string[], layers: VariableLayer[]): { document: CheckDocument; used: VariableValue[]; problems: Problem[] } {
  const resolved = { ...document }
  const used = new Map<string, VariableValue>()
  const problems: Problem[] = []
  for (const field of fields) {
    if (document[field] === undefined) continue
    const found = resolveVariables(document[field], layers, field)
    resolved[field] = found.value
    problems.push(...found.problems)
    for (const each of found.used) used.set(each.name, each)
  }
  return { document: resolved, used: [...used.values()], problems }
}

const isObject = (value: unknown): value is Record<string, unknown> => value !== null && typeof value === 'object' && !Array.isArray(value)

/** A place with a missing variable is already said; that its text then is no address need not be said too. */
function withoutUnresolved(problems: Problem[], unresolved: Problem[]): Problem[] {
  return problems.filter((problem) => !unresolved.some((each) => each.path === problem.path || problem.path.startsWith(each.path) || (problem.path !== '' && each.path.startsWith(problem.path))))
}

/** The place in the check's own document; a common condition is named as its service's. */
function ownPath(path: string, { conditions }: Effective): string {
  const match = /^pass\[(\d+)\](.*)$/.exec(path)
  const condition = match && conditions[Number(match[1])]
  if (!match || !condition) return path
  return condition.own === undefined ? `service ${condition.subject}${match[2]}` : `pass[${condition.own}]${match[2]}`
}
