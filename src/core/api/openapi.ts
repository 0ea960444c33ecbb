import { PARTY_KINDS } from '../parties/parties'
import { TROUBLES } from '../incidents/incident'
import { REASONS } from '../reasons/reasons'
import type { Kinds } from '../definitions/kind'
import { DIMENSION_NAMES } from '../findout/dimensions'
import { AGAINST, QUESTION_METRICS, STATISTICS } from '../findout/question'
import { OCCASIONS, PHASES, VERDICTS } from '../observation'
import { STATES } from '../states/check-state'
import { apiSchemas } from './schemas'

type Json = Record<string, unknown>

const ref = (name: string): Json => ({ $ref: `#/components/schemas/${name}` })
const json = (schema: Json, description: string): Json => ({ description, content: { 'application/json': { schema } } })
const problems = (...statuses: number[]): Json => Object.fromEntries([401, 403, 503, ...statuses].map((status) => [String(status), { $ref: `#/components/responses/Problem` }]))
const list = (name: string, schema: string): Json => ({ type: 'object', required: [name], properties: { [name]: { type: 'array', items: ref(schema) } } })
const parameter = (name: string, where: 'path' | 'query' | 'header', schema: Json, description: string): Json =>
  ({ name, in: where, required: where === 'path', schema, description })
const body = (schema: Json, required = true): Json => ({ required, content: { 'application/json': { schema } } })

const key = parameter('key', 'path', { type: 'string' }, 'The key of a check')
const serviceKey = parameter('key', 'path', { type: 'string' }, 'The key of a service')
const id = parameter('id', 'path', { type: 'integer' }, 'The number of an incident')
const limit = (most: number) => parameter('limit', 'query', { type: 'integer', minimum: 1, maximum: most }, 'The most that is given')

function operation(operationId: string, summary: string, responses: Json, more: Json = {}): Json {
  return { operationId, summary, responses, ...more }
}

function incidentAct(operationId: string, summary: string, schema?: Json): Json {
  return {
    parameters: [id],
    post: operation(operationId, summary, { 200: json(ref('Incident'), 'The incident after it'), ...problems(404, 409, 422) }, schema ? { requestBody: body(schema, false) } : {})
  }
}

const runWith = { type: 'object', properties: { variables: { type: 'object', additionalProperties: { type: 'string' }, description: 'Values for this run only' } } }
const named: Json = { type: 'array', items: { type: 'object', properties: { kind: { type: 'string' }, key: { type: 'string' } } } }

function windowOf(what: string, of: Json): Json {
  return {
    parameters: [of],
    put: operation(`open${what}Window`, 'Open a release window', { 204: { description: 'Open' }, ...problems(404, 422) }, { requestBody: body({ type: 'object', properties: { for: { type: 'string', examples: ['30m'] } } }, false) }),
    delete: operation(`close${what}Window`, 'Close it', { 204: { description: 'Closed' }, ...problems(404, 409) })
  }
}

function turn(operationId: string, what: string): Json {
  const done = { 204: { description: 'Done' }, ...problems(404, 422) }
  return { parameters: [key], put: operation(operationId, `${what} a check`, done, { requestBody: body({ type: 'object', properties: { until: { type: 'string', format: 'date-time' }, reason: { type: 'string', maxLength: 300 } } }, false) }), delete: operation(`${operationId}End`, `End that`, done) }
}

const inlet = parameter('inlet', 'path', { type: 'string' }, 'The last part of the check’s own address')
const callFields = { event: { type: 'string', enum: ['begin', 'end'], default: 'end' }, exit: { type: 'integer', minimum: 0, maximum: 255, default: 0 }, run: { type: 'string', maxLength: 100, description: 'Tells runs apart that go on at the same time' } }
const callParameters = Object.entries(callFields).map(([name, schema]) => parameter(name, 'query', schema, name === 'exit' ? 'The exit code of an end' : name === 'event' ? 'What happened' : 'A name of the run'))
const callBody = { type: 'object', properties: { ...callFields, output: { type: 'string', description: 'Its last 10 000 characters are kept' } } }
const toldProblems = Object.fromEntries([400, 404, 413, 422, 429].map((status) => [String(status), { $ref: '#/components/responses/Problem' }]))
const callAnswers = { 200: { description: 'Taken', content: { 'text/plain': { schema: { type: 'string' } } } }, ...toldProblems }
const pushAnswers = { 200: json({ type: 'object' }, 'Taken'), ...toldProblems }
const pushBody = { required: true, content: { 'application/json': { schema: { type: 'object', description: 'Numbers by name, or an ExportMetricsServiceRequest' } }, 'text/plain': { schema: { type: 'string', description: 'An exposition in the text form of OpenMetrics, or of version 0.0.4 before it' } } } }

const text = { type: 'object', properties: { text: { type: 'string', maxLength: 4000 } } }

/** The description of the HTTP API as an OpenAPI 3.1 document. */
export function openApi(kinds: Kinds): Json {
  return {
    openapi: '3.1.0',
    info: {
      title: 'Hemeron', version: '1', license: { name: 'Proprietary', identifier: 'LicenseRef-Hemeron' },
      description: 'Everything a person can do in Hemeron, over HTTP. Definitions are the same documents as in files. Errors are problem details (RFC 9457); `errors` names the path of each mistake.'
    },
    servers: [{ url: '/api/v1' }],
    security: [{ token: [] }],
    paths: {
      '/checks': {
        get: operation('listChecks', 'List checks', { 200: json(list('checks', 'Check'), 'Checks'), ...problems() }, {
          parameters: [parameter('service', 'query', { type: 'string' }, 'Only of this service'), parameter('state', 'query', { type: 'string', enum: [...STATES] }, 'Only in this state')]
        }),
        post: operation('addCheck', 'Add a check; it runs at once at every location', { 201: json(ref('Check'), 'The new check'), ...problems(400, 409, 422) }, { requestBody: body(ref('CheckDefinition')) })
      },
      '/checks/try': {
        post: operation('tryCheck', 'Run a definition once at each location without saving it', { 200: json(list('observations', 'Observation'), 'One observation a location'), ...problems(400, 422) }, { requestBody: body(ref('CheckDefinition')) })
      },
      '/checks/{key}': {
        parameters: [key],
        get: operation('readCheck', 'Read a check', { 200: json(ref('Check'), 'The check; ETag is its version'), ...problems(404) }),
        put: operation('replaceCheck', 'Replace the definition; history stays', { 200: json(ref('Check'), 'The check'), ...problems(400, 404, 409, 412, 422) }, {
          parameters: [parameter('If-Match', 'header', { type: 'string' }, 'The ETag it was read with; 412 when someone saved meanwhile')], requestBody: body(ref('CheckDefinition'))
        }),
        delete: operation('removeCheck', 'Remove a check', { 204: { description: 'Removed' }, ...problems(404) })
      },
      '/checks/{key}/run': { parameters: [key], post: operation('runCheck', 'Run now at every location; with variables once, unrecorded, with the answers', {
        200: json(list('observations', 'Observation'), 'What a run with other values brought'), 202: json({ type: 'object', properties: { locations: { type: 'integer' } } }, 'Asked for'), ...problems(404, 409, 422)
      }, { requestBody: body(runWith, false) }) },
      '/checks/{key}/window': windowOf('Check', key),
      '/checks/{key}/address': {
        parameters: [key],
        get: operation('readAddress', 'The address at which a job calls, or a host pushes numbers; needs the scope write', { 200: json(ref('InletAddress'), 'The address'), ...problems(404, 409) }),
        post: operation('renewAddress', 'Another address; the one before takes nothing any more', { 200: json(ref('InletAddress'), 'The new address'), ...problems(404, 409) })
      },
      '/call/{inlet}': {
        servers: [{ url: '/' }],
        parameters: [inlet],
        get: { ...operation('call', 'A job calls: that it begins, or that it has ended', callAnswers, { parameters: callParameters }), security: [] },
        post: { ...operation('callWithOutput', 'The same with the end of its output', callAnswers, { parameters: callParameters, requestBody: { required: false, content: { 'text/plain': { schema: { type: 'string' } }, 'application/json': { schema: callBody } } } }), security: [] }
      },
      '/push/{inlet}': { servers: [{ url: '/' }], parameters: [inlet], post: { ...operation('pushNumbers', 'A host pushes numbers', pushAnswers, { requestBody: pushBody }), security: [] } },
      '/push/{inlet}/v1/metrics': { servers: [{ url: '/' }], parameters: [inlet], post: { ...operation('exportMetrics', 'Metrics of OTLP/HTTP in JSON', pushAnswers, { requestBody: pushBody }), security: [] } },
      '/checks/{key}/pause': turn('pauseCheck', 'Pause'),
      '/checks/{key}/mute': turn('muteCheck', 'Mute'),
      '/checks/{key}/observations': {
        parameters: [key],
        get: operation('listObservations', 'Observations over a time range, newest first', { 200: json(list('observations', 'Observation'), 'Observations'), ...problems(404, 422) }, {
          parameters: [
            parameter('from', 'query', { type: 'string', format: 'date-time' }, 'An hour before `to` when missing'), parameter('to', 'query', { type: 'string', format: 'date-time' }, 'Now when missing'),
            parameter('location', 'query', { type: 'string' }, 'Only at this location'), parameter('verdict', 'query', { type: 'string', enum: [...VERDICTS] }, 'Only with this verdict'), limit(10_000)
          ]
        })
      },
      '/checks/{key}/observations/{location}/{at}': {
        parameters: [key, parameter('location', 'path', { type: 'string' }, 'The key of a location'), parameter('at', 'path', { type: 'string', format: 'date-time' }, 'When it began, as the list says it')],
        get: operation('readObservation', 'One observation with its evidence, where that was kept', { 200: json(ref('Observation'), 'The observation'), ...problems(404) })
      },
      '/checks/{key}/practice': { parameters: [key], post: operation('practiceOutage', 'Begin a practice outage: made up, told of the whole way', { 201: json(ref('Incident'), 'The incident'), ...problems(404, 422) }, { requestBody: body({ type: 'object', properties: { state: { type: 'string', enum: ['down', 'slow'] }, for: { type: 'string', examples: ['10m'] } } }, false) }) },
      '/incidents': {
        get: operation('listIncidents', 'List incidents', { 200: json(list('incidents', 'Incident'), 'Incidents'), ...problems(404, 422) }, {
          parameters: [parameter('open', 'query', { type: 'boolean' }, 'Only open, or only closed ones'), parameter('check', 'query', { type: 'string' }, 'Only of this check'), limit(1000)]
        })
      },
      '/incidents/{id}': { parameters: [id], get: operation('readIncident', 'Read an incident with what happened', { 200: json(ref('Incident'), 'The incident'), ...problems(404) }) },
      '/incidents/{id}/take': incidentAct('takeIncident', 'Take it'),
      '/incidents/{id}/hand-over': incidentAct('handOverIncident', 'Hand it to someone', { type: 'object', required: ['to'], properties: { to: { type: 'string', description: 'The key or mail address of a person' }, text: { type: 'string' } } }),
      '/incidents/{id}/notes': incidentAct('noteIncident', 'Write a note', { ...text, required: ['text'] }),
      '/incidents/{id}/follow-ups': incidentAct('addFollowUp', 'Add what is to be done after it', { ...text, required: ['text'] }),
      '/incidents/{id}/follow-ups/done': incidentAct('doFollowUp', 'Say that a follow-up is done, by its words', { ...text, required: ['text'] }),
      '/incidents/{id}/follow-ups/open': incidentAct('openFollowUp', 'Say that a follow-up is not done after all, by its words', { ...text, required: ['text'] }),
      '/incidents/{id}/close': incidentAct('closeIncident', 'Close it', text),
      '/incidents/{id}/hold-off': incidentAct('holdOffIncident', 'Tell nobody else for a time', { type: 'object', required: ['for'], properties: { for: { type: 'string', examples: ['30m'] }, text: { type: 'string' } } }),
      '/incidents/{id}/escalate': incidentAct('escalateIncident', 'Tell the next step of its routes now', text),
      '/incidents/{id}/call-in': incidentAct('callInToIncident', 'Call others in', { type: 'object', required: ['tell'], properties: { tell: { type: 'array', items: { type: 'string', examples: ['rota/duty-lead'] } }, text: { type: 'string' } } }),
      '/incidents/{id}/join': incidentAct('joinIncident', 'Make it part of another open incident', { type: 'object', required: ['into'], properties: { into: { type: 'integer', description: 'The number of the other incident' } } }),
      '/incidents/{id}/take-out': incidentAct('takeOutIncident', 'Take it out of the incident it is part of'),
      '/incidents/{id}/not-real': incidentAct('markIncidentNotReal', 'Mark it as not real', text),
      '/services': {
        get: operation('listServices', 'List services', { 200: json(list('services', 'Service'), 'Services'), ...problems() }),
        post: operation('addService', 'Add a service', { 201: json(ref('Service'), 'The new service'), ...problems(400, 409, 422) }, { requestBody: body(ref('ServiceDefinition')) })
      },
      '/services/{key}': {
        parameters: [serviceKey],
        get: operation('readService', 'Read a service', { 200: json(ref('Service'), 'The service; ETag is its version'), ...problems(404) }),
        put: operation('replaceService', 'Replace a service; its checks follow', { 200: json(ref('Service'), 'The service'), ...problems(400, 404, 409, 412, 422) }, {
          parameters: [parameter('If-Match', 'header', { type: 'string' }, 'The ETag it was read with')], requestBody: body(ref('ServiceDefinition'))
        }),
        delete: operation('removeService', 'Remove a service that has no checks', { 204: { description: 'Removed' }, ...problems(404, 422) })
      },
      '/services/{key}/run': { parameters: [serviceKey], post: operation('runService', 'Run every check of a service; with variables once, unrecorded, with the answers', {
        200: json({ type: 'object', properties: { results: { type: 'array', items: { type: 'object', properties: { check: { type: 'string' }, observations: { type: 'array', items: ref('Observation') } } } } } }, 'What it brought'),
        202: json({ type: 'object', properties: { checks: { type: 'array', items: { type: 'string' } } } }, 'Asked for'), ...problems(404, 422)
      }, { requestBody: body(runWith, false) }) },
      '/services/{key}/window': windowOf('Service', serviceKey),
      '/services/{key}/secrets/{name}': { parameters: [serviceKey, parameter('name', 'path', { type: 'string' }, 'A name the service declares')], put: operation('setSecret', 'Set the value of a secret; it cannot be read again', { 204: { description: 'Set' }, ...problems(404, 422) }, { requestBody: body({ type: 'object', required: ['value'], properties: { value: { type: 'string', minLength: 4, maxLength: 8000 } } }) }) },
      '/definitions': {
        get: operation('exportDefinitions', 'Definitions as a file', { 200: { description: 'The file', content: { 'application/yaml': {}, 'application/json': {}, 'text/csv': {} } }, ...problems() }, { parameters: [parameter('service', 'query', { type: 'string' }, 'Only of this service'), parameter('as', 'query', { type: 'string', enum: ['yaml', 'json', 'csv'] }, 'The form')] }),
        post: operation('applyDefinitions', 'Apply definitions as a whole or not at all', { 200: json({ type: 'object', properties: { new: named, changed: named, same: { type: 'integer' }, problems: { type: 'array', items: { type: 'object' } } } }, 'What happened, or would'), ...problems(409, 422) }, {
          parameters: [parameter('preview', 'query', { type: 'boolean' }, 'Only say what would happen')], requestBody: { required: true, content: { 'application/json': { schema: { type: 'object', properties: { definitions: { type: 'array', items: { type: 'object' } } } } }, 'application/yaml': {} } }
        })
      },
      '/planned': {
        get: operation('listPlanned', 'Planned work and release windows', { 200: json(list('planned', 'Planned'), 'Planned time'), ...problems() }),
        post: operation('addPlanned', 'Plan work or a release window', { 201: json({ type: 'object', properties: { definition: ref('PlannedDefinition') } }, 'Planned'), ...problems(409, 422) }, { requestBody: body(ref('PlannedDefinition')) })
      },
      '/planned/{key}': {
        parameters: [parameter('key', 'path', { type: 'string' }, 'The key of planned time')],
        patch: operation('endPlanned', 'End what is on now, or prolong it', { 204: { description: 'Done' }, ...problems(404, 409, 422) }, { requestBody: body({ type: 'object', properties: { to: { type: 'string', format: 'date-time' } } }, false) }),
        delete: operation('removePlanned', 'Plan it no more', { 204: { description: 'Removed' }, ...problems(404) })
      },
      '/routing': { get: operation('listRouting', 'List teams, rotas and routes', { 200: json(list('routing', 'Routing'), 'Routing; routes in the order in which they are asked'), ...problems() }) },
      '/routing/{kind}/{key}': {
        parameters: [parameter('kind', 'path', { type: 'string', enum: ['team', 'rota', 'route'] }, 'What it is'), parameter('key', 'path', { type: 'string' }, 'Its key')],
        put: operation('putRouting', 'Put a team, rota or route in place; all of routing is judged as it would then be', { 200: json(ref('Routing'), 'What stands; ETag is its version'), ...problems(400, 404, 412, 422) }, {
          parameters: [parameter('If-Match', 'header', { type: 'string' }, 'The ETag it was read with')], requestBody: body({ type: 'object' })
        }),
        delete: operation('removeRouting', 'Take it away, unless a route still tells it', { 204: { description: 'Removed' }, ...problems(404, 422) })
      },
      '/rehearse': { get: operation('rehearse', 'Who would be told, by what and when', { 200: json(ref('Rehearsal'), 'The steps of the first three hours'), ...problems(404, 422) }, { parameters: [
        parameter('check', 'query', { type: 'string' }, 'The key of the check'), parameter('state', 'query', { type: 'string', enum: [...TROUBLES] }, 'What it would be'),
        parameter('at', 'query', { type: 'string', format: 'date-time' }, 'When it would be called; now when missing'), parameter('taken', 'query', { type: 'string', examples: ['5m'] }, 'How long after it somebody takes it; nobody when missing')
      ] }) },
      '/find-out': {
        get: operation('findOut', 'The answer to a question, and what sets its stretch apart', { 200: json(ref('FoundOut'), 'The answer'), ...problems(422) }, { parameters: [
          parameter('show', 'query', { type: 'string', enum: [...STATISTICS] }, 'The statistic; p95 when it is left out'), parameter('of', 'query', { type: 'string', enum: [...QUESTION_METRICS] }, 'What is measured; the whole time when it is left out'),
          parameter('for', 'query', { type: 'string', examples: ['service/checkout,check/sailings-api'] }, 'Checks and services; everything when it is left out'), parameter('by', 'query', { type: 'string', enum: [...DIMENSION_NAMES] }, 'What it is split by; location when it is left out'),
          parameter('over', 'query', { type: 'string', examples: ['24h', '2026-11-24T12:00_2026-11-24T18:00'] }, 'A length up to now, or two times on the clock of the workspace'), parameter('where', 'query', { type: 'array', items: { type: 'string', examples: ['country:CL|AR', '-server:edge-4'] } }, 'Demands: one of some values, or with a minus none of them'),
          parameter('beside', 'query', { type: 'string', examples: ['before', 'week', 'check/fares-api'] }, 'Another time, or other checks and services'), parameter('beside-where', 'query', { type: 'array', items: { type: 'string' } }, 'Demands of what it is set beside'),
          parameter('stretch', 'query', { type: 'string', examples: ['2026-11-24T12:40_2026-11-24T13:55', 'none'] }, 'The stretch to look into; the one that stands out when it is left out'), parameter('against', 'query', { type: 'string', enum: [...AGAINST] }, 'What the stretch is compared with; the time around it when it is left out')
        ] })
      },
      '/marks': {
        get: operation('listMarks', 'Points in time worth remembering, oldest first', { 200: json(list('marks', 'Mark'), 'Marks'), ...problems(422) }, { parameters: [parameter('from', 'query', { type: 'string', format: 'date-time' }, 'From when'), parameter('to', 'query', { type: 'string', format: 'date-time' }, 'Until when')] }),
        post: operation('setMark', 'Set a mark, as a pipeline does after a release', { 201: json(ref('Mark'), 'The mark'), ...problems(400, 422) }, { requestBody: body(ref('MarkDraft')) })
      },
      '/marks/{id}': {
        parameters: [parameter('id', 'path', { type: 'integer' }, 'Its number')],
        get: operation('markBeforeAfter', 'A mark, and what changed in the same hours after it', { 200: json(ref('BeforeAfter'), 'Before and after'), ...problems(404) }),
        delete: operation('removeMark', 'Take a mark away', { 204: { description: 'Removed' }, ...problems(404) })
      },
      '/parties': { get: operation('listParties', 'Who stands between a visitor and an answer', { 200: json(list('parties', 'Party'), 'Parties'), ...problems() }) },
      '/parties/{key}': {
        parameters: [parameter('key', 'path', { type: 'string' }, 'Its key')],
        put: operation('putParty', 'Put a party in place, new or changed', { 200: json(ref('Party'), 'What stands'), ...problems(400, 422) }, { requestBody: body(ref('Party')) }),
        delete: operation('removeParty', 'Take a party away', { 204: { description: 'Removed' }, ...problems(404) })
      },
      '/locations': { get: operation('listLocations', 'List locations', { 200: json(list('locations', 'Location'), 'Locations'), ...problems() }) },
      '/deliveries': { get: operation('listDeliveries', 'Messages sent, newest first', { 200: json(list('deliveries', 'Delivery'), 'Deliveries'), ...problems(422) }, { parameters: [parameter('incident', 'query', { type: 'integer' }, 'Only of this incident'), limit(1000)] }) }
    },
    components: {
      securitySchemes: { token: { type: 'http', scheme: 'bearer', description: 'A token made in the settings, with the scope read, respond or write' } },
      responses: { Problem: { description: 'A problem (RFC 9457)', content: { 'application/problem+json': { schema: ref('Problem') } } } },
      schemas: {
        ...apiSchemas(kinds),
        MarkDraft: { type: 'object', required: ['title'], properties: { title: { type: 'string' }, kind: { type: 'string', enum: ['release', 'change', 'note'] }, at: { type: 'string', format: 'date-time', description: 'Now when missing' }, detail: { type: 'string' }, service: { type: 'string' }, check: { type: 'string' } } },
        FoundOut: { type: 'object', required: ['question', 'from', 'to', 'step', 'observations', 'answeredFrom', 'groups', 'more'], properties: {
          question: { type: 'string', description: 'The question as a sentence' }, from: { type: 'string', format: 'date-time' }, to: { type: 'string', format: 'date-time' }, step: { type: 'number', description: 'Milliseconds from one point of a line to the next' },
          observations: { type: 'integer' }, answeredFrom: { type: 'string', enum: ['observations', 'hours', 'days'] }, passingTaken: { type: 'number', description: 'The share of passing observations that was taken, where it was not all' },
          groups: { type: 'array', description: 'Worst first, 20 at most', items: { type: 'object', required: ['key', 'name', 'tries', 'fails', 'value', 'line'], properties: { key: { type: 'string' }, name: { type: 'string' }, tries: { type: 'integer' }, fails: { type: 'integer' }, p50: { type: 'number' }, p95: { type: 'number' }, value: { type: ['number', 'null'] }, beside: { type: 'number' }, loss: { type: 'number' }, line: { type: 'array', items: { type: ['number', 'null'] } }, besideLine: { type: 'array', items: { type: ['number', 'null'] } } } } },
          more: { type: 'integer', description: 'Groups that are not given' }, together: { type: 'object', properties: { value: { type: ['number', 'null'] }, beside: { type: ['number', 'null'] } } }, stretch: { type: 'object', properties: { from: { type: 'string', format: 'date-time' }, to: { type: 'string', format: 'date-time' }, picked: { type: 'boolean' } } },
          verdict: { type: 'object', required: ['of', 'outcome', 'title', 'detail', 'named', 'rows', 'parties'], properties: {
            of: { type: 'string', enum: ['failures', 'times'] }, outcome: { type: 'string', enum: ['named', 'alike', 'nothing', 'few'] }, title: { type: 'string' }, detail: { type: 'string' }, reason: { type: 'string' },
            named: { type: 'array', items: { type: 'object', properties: { dimension: { type: 'string' }, value: { type: 'string' }, share: { type: 'number' }, chance: { type: 'number' } } } }, rows: { type: 'array', items: { type: 'object' } }, parties: { type: 'array', items: { type: 'object', properties: { name: { type: 'string' }, kind: { type: 'string', enum: [...PARTY_KINDS] }, verdict: { type: 'string', enum: ['to blame', 'cleared', 'cannot be told'] }, why: { type: 'string' }, contact: { type: 'string' } } } }
          } }
        } },
        Mark: { type: 'object', required: ['id', 'at', 'kind', 'title'], properties: { id: { type: 'integer' }, at: { type: 'string', format: 'date-time' }, kind: { type: 'string', enum: ['release', 'change', 'note'] }, title: { type: 'string' }, detail: { type: 'string' }, service: { type: ['string', 'null'] }, check: { type: ['string', 'null'] }, person: { type: ['string', 'null'] } } },
        BeforeAfter: { allOf: [ref('Mark'), { type: 'object', required: ['verdict', 'change'], properties: { verdict: { type: 'string' }, change: { type: 'string', enum: ['faster', 'slower', 'no difference', 'too few'] }, medians: { type: 'object' }, difference: { type: ['object', 'null'] }, compared: { type: 'object' }, locations: { type: 'array', items: { type: 'object' } } } }] },
        Party: { type: 'object', required: ['party', 'name', 'kind'], properties: { party: { type: 'string' }, name: { type: 'string' }, kind: { type: 'string', enum: [...PARTY_KINDS] }, contact: { type: 'string' }, hosts: { type: 'array', items: { type: 'string' } }, ranges: { type: 'array', items: { type: 'string' } }, networks: { type: 'array', items: { type: 'string' } } } },
        Routing: { type: 'object', required: ['kind', 'key', 'document', 'version'], properties: { kind: { type: 'string', enum: ['team', 'rota', 'route'] }, key: { type: 'string' }, version: { type: 'integer' }, document: { type: 'object', description: 'The written form' } } },
        Rehearsal: {
          type: 'object', required: ['routes', 'cut', 'steps'],
          properties: {
            routes: { type: 'array', items: { type: 'string' }, description: 'The routes that fit; `everyone` when none does' }, cut: { type: 'boolean', description: 'More would follow' },
            steps: { type: 'array', items: { type: 'object', properties: {
              at: { type: 'string', format: 'date-time' }, route: { type: 'string' }, step: { type: 'integer' }, round: { type: 'integer' }, left: { type: ['string', 'null'], enum: ['taken', null] },
              receivers: { type: 'array', items: { type: 'object', properties: { name: { type: 'string' }, means: { type: 'string' } } } }, passedOver: { type: 'array', items: { type: 'object', properties: { name: { type: 'string' }, why: { type: 'string' } } } }
            } } }
          }
        },
        Observation: {
          type: 'object', required: ['location', 'at', 'verdict', 'reason', 'phases', 'total'],
          properties: {
            location: { type: 'string' }, at: { type: 'string', format: 'date-time' }, occasion: { type: 'string', enum: [...OCCASIONS] }, verdict: { type: 'string', enum: [...VERDICTS] },
            reason: { type: ['string', 'null'], enum: [...Object.keys(REASONS), null] }, reasonText: { type: 'string' }, sentence: { type: 'string', description: 'The reason for a person' },
            phases: { type: 'object', description: 'Milliseconds by phase', properties: Object.fromEntries(PHASES.map((phase) => [phase, { type: 'number' }])) },
            readings: { type: 'object', description: 'Numbers of the kind by name; shares from 0 to 1, times in milliseconds', additionalProperties: { type: 'number' } },
            total: { type: 'number', description: 'Milliseconds' }, status: { type: 'integer' }, address: { type: 'string' }, server: { type: 'string' }, protocol: { type: 'string' }, resolver: { type: 'string' }, tlsVersion: { type: 'string' },
            steps: { type: 'array', description: 'What it did one after the other, of kinds that have steps', items: { type: 'object', properties: { name: { type: 'string' }, took: { type: 'number', description: 'Milliseconds' }, status: { type: 'integer' }, failed: { type: 'boolean', description: 'The try failed at this step' } } } },
            bytesSent: { type: 'integer' }, bytesReceived: { type: 'integer' }, certificateEnd: { type: 'string', format: 'date-time' }, version: { type: 'integer' },
            evidence: { type: 'object', description: 'Request, answer, lookup, certificate, conditions and what was looked at beside; given by try, and with one observation' }
          }
        }
      }
    }
  }
}
