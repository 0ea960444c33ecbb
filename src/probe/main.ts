import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { createHash } from 'node:crypto'
import type { Link } from '../kinds/link'
import { standInWorld } from '../../standins/links/stand-in-link'
import { realLink } from './links/real-link'
import { Probe } from './probe'
import { Spool } from './spool'
import { Wire, type ProbeLocation } from './wire'

export const PROBE_VERSION = '0.1.0'

const { values } = parseArgs({
  options: { url: { type: 'string' }, token: { type: 'string' }, spool: { type: 'string' }, world: { type: 'string' } }
})
const url = values.url ?? process.env.HEMERON_URL
const token = values.token ?? process.env.HEMERON_PROBE_TOKEN
const say = (text: string) => process.stdout.write(`${new Date().toISOString()} probe ${text}\n`)

if (!url || !URL.canParse(url) || !token) {
  process.stderr.write('A probe needs --url, where Hemeron is, and --token, made there under Settings, Locations.\n')
  process.exit(2)
}
const spool = values.spool ?? join(tmpdir(), `hemeron-spool-${createHash('sha256').update(token).digest('hex').slice(0, 12)}`)
const worldUrl = values.world ?? process.env.HEMERON_WORLD
const world = worldUrl ? standInWorld(worldUrl) : undefined
const linkOf = (location: ProbeLocation): Link => world?.link(location) ?? realLink(location)

const probe = new Probe(new Wire(url, token, PROBE_VERSION), new Spool(spool), linkOf, say)
const stop = () => void probe.stop().then(() => process.exit(0))
process.once('SIGTERM', stop)
process.once('SIGINT', stop)
say(`started, towards ${url}`)
void probe.run()
