import type { Gateway } from '../core/people/phone'
import { DAY } from '../core/units'
import { change, fromJson, rows, type Queryable } from './database'

/** What a workspace has settled once for everything. */
export interface Settings {
  name: string
  zone: string
  theme: 'light' | 'dark' | 'auto'
  /** Where people open Hemeron, without a slash at the end; links in messages begin with it. Empty when not settled. */
  address: string
  /** How many proxies stand before Hemeron; that many entries at the end of X-Forwarded-For are believed. */
  proxies: number
  /** How long each kind of data is kept, in days. */
  keep: { observation: number; evidence: number; rollup5m: number; rollup1h: number; rollup1d: number; delivery: number }
  /** The mail server messages go to. */
  mail: { host: string; port: number; secure: boolean; user: string; password: string; from: string }
  /** The control address of the stand-in world; set in the demo only. */
  world: string
  /** The key pair that push messages are signed with (RFC 8292). */
  push: { publicKey: string; privateKey: string }
  /** What carries texts and calls. */
  gateways: Gateway[]
  /** What links that take an incident are signed with. */
  linkKey: string
}

export const DEFAULT_SETTINGS: Settings = {
  name: 'Hemeron',
  zone: 'UTC',
  theme: 'auto',
  address: '',
  proxies: 0,
  keep: { observation: 14, evidence: 14, rollup5m: 35, rollup1h: 400, rollup1d: 1830, delivery: 400 },
  mail: { host: '', port: 587, secure: false, user: '', password: '', from: 'hemeron@localhost' },
  world: '',
  push: { publicKey: '', privateKey: '' },
  gateways: [],
  linkKey: ''
}

/** Reads all settings, with the default for each that was never set. */
export async function readSettings(on: Queryable): Promise<Settings> {
  const found = await rows<{ name: keyof Settings; value: unknown }>(on, 'SELECT name, value FROM setting')
  return { ...DEFAULT_SETTINGS, ...Object.fromEntries(found.map((each) => [each.name, fromJson(each.value)])) } as Settings
}

/** Sets some settings; the others stay. */
export async function writeSettings(on: Queryable, settings: Partial<Settings>): Promise<void> {
  for (const [name, value] of Object.entries(settings)) {
    await change(on, 'INSERT INTO setting (name, value) VALUES (?, ?) ON DUPLICATE KEY UPDATE value = VALUES(value)', [name, JSON.stringify(value)])
  }
}

/** Days as milliseconds, for the retention of partitions. */
export const keptFor = (days: number) => days * DAY
