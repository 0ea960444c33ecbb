import { IMPORTANCES } from '../definitions/check'
import { STATES } from '../states/check-state'

const duration = { type: 'string', pattern: '^\\d+(\\.\\d+)?(ms|s|m|h|d)$', examples: ['60s', '5m'] }
const time = { type: ['string', 'null'], format: 'date-time' }
const text = { type: 'string' }

/** The shapes that the API takes and gives, as JSON Schema. */
export const API_SCHEMAS = {
  CheckDefinition: {
    type: 'object', required: ['check', 'name', 'http'], additionalProperties: false,
    properties: {
      check: { type: 'string', pattern: '^[a-z0-9]([a-z0-9-]{0,98}[a-z0-9])?$', description: 'The key' }, name: text, service: { type: 'string', description: 'The key of a service' },
      tags: { type: 'array', items: text }, importance: { type: 'string', enum: [...IMPORTANCES] },
      http: {
        type: 'object', required: ['url'], additionalProperties: false,
        properties: {
          url: { type: 'string', format: 'uri' }, method: text, headers: { type: 'object', additionalProperties: text }, body: text,
          auth: { type: 'object', description: '{ basic: { user, password } } or { bearer }' }, redirects: { type: 'integer', minimum: 0, maximum: 20 }, verify: { type: 'boolean' },
          version: { type: 'string', enum: ['any', '1.1'] }, family: { type: 'string', enum: ['ipv4', 'ipv6'] }, most: { type: 'string', examples: ['5MB'] }
        }
      },
      every: duration, from: { oneOf: [{ const: 'all' }, { type: 'array', items: text }] }, wait: duration,
      pass: { type: 'array', items: { type: 'object', description: 'A condition on status, text, pattern, json, header, certificate, size or phase; `not` turns it round, `softly` lets it only warn' } },
      turned: { type: 'boolean' },
      down: { type: 'object', properties: { tries: { type: 'integer' }, of: { type: 'integer' }, apart: duration, locations: { type: 'integer' } } },
      up: { type: 'object', properties: { tries: { type: 'integer' } } },
      slow: { type: 'object', required: ['above'], properties: { phase: text, above: duration, for: duration, locations: { type: 'integer' } } }
    }
  },
  Check: {
    type: 'object', required: ['definition', 'version', 'paused', 'muted', 'state'],
    properties: {
      definition: { $ref: '#/components/schemas/CheckDefinition' }, version: { type: 'integer' }, paused: { type: 'boolean' }, muted: { type: 'boolean' },
      state: {
        type: ['object', 'null'],
        properties: { state: { type: 'string', enum: [...STATES] }, since: time, reason: { type: ['string', 'null'] }, sentence: { type: ['string', 'null'] }, failing: { type: 'integer' }, suspecting: { type: 'integer' }, locations: { type: 'integer' }, newestObservation: time }
      }
    }
  },
  Incident: {
    type: 'object', required: ['id', 'check', 'trouble', 'open'],
    properties: {
      id: { type: 'integer' }, check: text, name: text, trouble: { type: 'string', enum: ['down', 'slow'] }, open: { type: 'boolean' }, openedAt: time, since: time,
      lastPass: time, endedAt: time, closedAt: time, holder: { type: ['string', 'null'] }, notReal: { type: 'boolean' }, reason: { type: ['string', 'null'] }, sentence: text,
      failing: { type: 'integer' }, locations: { type: 'integer' },
      events: { type: 'array', items: { type: 'object', properties: { at: time, kind: text, person: { type: ['string', 'null'] }, title: text, detail: text } } }
    }
  },
  ServiceDefinition: {
    type: 'object', required: ['service', 'name'], additionalProperties: false,
    properties: { service: text, name: text, stage: text, objective: { type: 'object', required: ['available'], properties: { available: { type: 'string', examples: ['99.9%'] }, over: duration } } }
  },
  Service: { type: 'object', required: ['definition', 'version'], properties: { definition: { $ref: '#/components/schemas/ServiceDefinition' }, version: { type: 'integer' } } },
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
}
