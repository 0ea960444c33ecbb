import { TROUBLES } from '../incidents/incident'
import { IMPORTANCES } from '../definitions/check'
import type { Kinds } from '../definitions/kind'
import { STATES } from '../states/check-state'

const duration = { type: 'string', pattern: '^\\d+(\\.\\d+)?(ms|s|m|h|d)$', examples: ['60s', '5m'] }
const time = { type: ['string', 'null'], format: 'date-time' }
const text = { type: 'string' }

const CONDITIONS = { type: 'array', items: { type: 'object', description: 'A condition on status, text, pattern, json, header, certificate, size, phase, metric, or a number or word of the kind; `not` turns it round, `softly` lets it only warn' } }

/** What a check, a service and the workspace can all say; the nearer one counts. */
const SHARED = {
  importance: { type: 'string', enum: [...IMPORTANCES] }, every: duration, wait: duration, turns: { type: 'string', enum: ['together', 'in-turn'] },
  from: { oneOf: [{ const: 'all' }, { type: 'array', items: text }, { type: 'object', properties: { networks: { type: 'array', items: text }, countries: { type: 'array', items: text } } }] },
  down: { type: 'object', properties: { tries: { type: 'integer' }, of: { type: 'integer' }, apart: duration, locations: { type: 'integer' } } },
  up: { type: 'object', properties: { tries: { type: 'integer' } } },
  slow: { oneOf: [{ const: 'none' }, { type: 'object', properties: { phase: text, above: { ...text, description: 'A duration, or usual' }, spreads: { type: 'number' }, for: duration, locations: { type: 'integer' }, margin: { type: 'string', examples: ['10%'] } } }] },
  hours: { oneOf: [{ const: 'always' }, { type: 'object', required: ['at'], properties: { at: { type: 'array', items: { type: 'string', examples: ['mon-fri 06:00-22:00'] } }, zone: text } }] },
  window: { oneOf: [{ const: 'none' }, { type: 'object', properties: { only: { type: 'boolean' }, every: duration } }] }
}
const VARIABLES = {
  variables: { type: 'object', additionalProperties: text, description: 'Used as ${NAME} in the target and in conditions' },
  secrets: { type: 'array', items: text, description: 'Names only; values are set apart and never given' }
}
const halt = { type: ['object', 'null'], properties: { since: time, until: time, reason: { type: ['string', 'null'] }, by: { type: ['string', 'null'] } } }

/** The shapes that the API takes and gives, as JSON Schema. */
export const apiSchemas = (kinds: Kinds) => ({
  CheckDefinition: {
    type: 'object', required: ['check', 'name'], oneOf: Object.keys(kinds).map((kind) => ({ required: [kind] })), additionalProperties: false,
    properties: {
      ...SHARED, ...VARIABLES,
      check: { type: 'string', pattern: '^[a-z0-9]([a-z0-9-]{0,98}[a-z0-9])?$', description: 'The key' }, name: text, service: { type: 'string', description: 'The key of a service' },
      tags: { type: 'array', items: text }, needs: { type: 'array', items: text, description: 'Keys of the checks it depends on' },
      ...Object.fromEntries(Object.values(kinds).map(({ kind, jsonSchema }) => [kind, jsonSchema])),
      pass: CONDITIONS, without: { type: 'array', items: text, description: 'Subjects of common conditions of the service that are left out' }, turned: { type: 'boolean' }
    }
  },
  Check: {
    type: 'object', required: ['definition', 'version', 'paused', 'muted', 'state'],
    properties: {
      definition: { $ref: '#/components/schemas/CheckDefinition' }, version: { type: 'integer' }, paused: { type: 'boolean' }, pause: halt, muted: { type: 'boolean' }, mute: halt,
      effective: { type: 'object', description: 'The definition with everything inherited filled in' }, origins: { type: 'object', additionalProperties: { type: 'string', enum: ['check', 'service', 'workspace', 'built in'] }, description: 'Where each part comes from' },
      problems: { type: 'array', items: { type: 'object' }, description: 'Why it cannot run: variables that have gone missing' },
      state: {
        type: ['object', 'null'],
        properties: { state: { type: 'string', enum: [...STATES] }, since: time, reason: { type: ['string', 'null'] }, sentence: { type: ['string', 'null'] }, failing: { type: 'integer' }, suspecting: { type: 'integer' }, locations: { type: 'integer' }, newestObservation: time }
      }
    }
  },
  Incident: {
    type: 'object', required: ['id', 'check', 'trouble', 'open'],
    properties: {
      id: { type: 'integer' }, check: text, name: text, trouble: { type: 'string', enum: [...TROUBLES], description: 'A warning and a fast burn of an error budget are no outages' }, open: { type: 'boolean' }, openedAt: time, since: time,
      lastPass: time, endedAt: time, closedAt: time, holder: { type: ['string', 'null'] }, notReal: { type: 'boolean' }, reason: { type: ['string', 'null'] }, sentence: text,
      failing: { type: 'integer' }, locations: { type: 'integer' },
      partOf: { type: ['integer', 'null'], description: 'The incident it is part of' }, why: { type: ['string', 'null'], description: 'What the two have in common' }, checks: { type: 'integer', description: 'How many checks it is about' },
      practice: { type: 'boolean' }, heldOffUntil: time, parts: { type: 'array', items: { type: 'object', properties: { id: { type: 'integer' }, check: text, name: text, trouble: text, open: { type: 'boolean' }, since: time, why: { type: ['string', 'null'] }, heldBack: { type: 'boolean' } } } },
      events: { type: 'array', items: { type: 'object', properties: { at: time, kind: text, person: { type: ['string', 'null'] }, title: text, detail: text } } }
    }
  },
  ServiceDefinition: {
    type: 'object', required: ['service', 'name'], additionalProperties: false,
    properties: { ...SHARED, ...VARIABLES, pass: CONDITIONS, service: text, name: text, stage: text, client: text, objective: { type: 'object', required: ['available'], properties: { available: { type: 'string', examples: ['99.9%'] }, over: duration } } }
  },
  Service: { type: 'object', required: ['definition', 'version'], properties: { definition: { $ref: '#/components/schemas/ServiceDefinition' }, version: { type: 'integer' } } },
  InletAddress: { type: 'object', required: ['address'], properties: { address: { type: 'string', format: 'uri', description: 'Whoever knows it can tell the check things' } } },
  PlannedDefinition: {
    type: 'object', required: ['planned', 'title', 'from', 'zone', 'lasts'], additionalProperties: false,
    properties: {
      planned: text, title: text, public: text, does: { type: 'string', enum: ['work', 'window'] }, from: { type: 'string', examples: ['2026-11-24T02:00'] }, zone: { type: 'string', examples: ['Europe/Oslo'] }, lasts: duration,
      repeats: { type: 'string', description: 'RRULE (RFC 5545), daily or rarer', examples: ['FREQ=WEEKLY;BYDAY=TU'] }, except: { type: 'array', items: text },
      for: { type: 'object', properties: { services: { type: 'array', items: text }, tags: { type: 'array', items: text }, checks: { type: 'array', items: text } } }
    }
  },
  Planned: { type: 'object', required: ['definition', 'next'], properties: { definition: { $ref: '#/components/schemas/PlannedDefinition' }, next: { type: ['object', 'null'], properties: { from: time, to: time, on: { type: 'boolean' } } } } },
  Location: {
    type: 'object', required: ['key', 'place', 'country', 'network', 'networkType'],
    properties: { key: text, place: text, country: text, network: text, networkType: { type: 'string', enum: ['transit', 'access', 'mobile', 'hosting', 'own'] }, allowsInternal: { type: 'boolean' } }
  },
  Delivery: {
    type: 'object', required: ['id', 'channel', 'news', 'state'],
    properties: {
      id: { type: 'integer' }, incident: { type: ['integer', 'null'] }, channel: text, channelKind: { type: 'string', enum: ['mail', 'webhook', 'push'] }, person: { type: ['string', 'null'] },
      news: { type: 'string', enum: ['down', 'slow', 'over', 'test'] }, subject: text, state: { type: 'string', enum: ['waiting', 'sending', 'sent', 'failed', 'dropped'] }, createdAt: time, dueAt: time, sentAt: time,
      tries: { type: 'integer' }, answer: { type: ['string', 'null'] }
    }
  },
  Problem: {
    type: 'object', required: ['type', 'title', 'status'],
    properties: {
      type: text, title: text, status: { type: 'integer' }, detail: text,
      errors: { type: 'array', items: { type: 'object', properties: { path: text, found: text, expected: text, detail: text, line: { type: 'integer' } } } }
    }
  }
})
