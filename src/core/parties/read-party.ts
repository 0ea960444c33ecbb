import ipaddr from 'ipaddr.js'
import * as yup from 'yup'
import { choiceField, keyField, needed, textField } from '../definitions/fields'
import { exactly, problemsOf } from '../definitions/problems-of'
import type { Problem } from '../problems'
import { PARTY_KINDS, type Party } from './parties'

/** The written form of a party. */
export type PartyDocument = { party: string } & Omit<Party, 'key' | 'hosts' | 'ranges' | 'networks'> & Partial<Pick<Party, 'hosts' | 'ranges' | 'networks'>>

const listOf = (what: string, fits: (text: string) => boolean) => yup.array().of(yup.string().test('fits', what, (value) => typeof value === 'string' && value.length <= 200 && fits(value)) as never).max(500, 'at most 500')

const schema = exactly({
  party: needed(keyField(), 'the key of the party'), name: needed(textField(200), 'a name of 1 to 200 characters'), kind: needed(choiceField([...PARTY_KINDS]), `one of ${PARTY_KINDS.join(', ')}`), contact: textField(300),
  hosts: listOf('a host such as www.example.org or *.example.org', (text) => /^(\*\.)?[a-z0-9-]+(\.[a-z0-9-]+)+$/i.test(text)),
  ranges: listOf('an address range such as 192.0.2.0/24 or 2001:db8::/32', (text) => { try { return Boolean(ipaddr.parseCIDR(text)) } catch { return false } }),
  networks: listOf('the name of a network', (text) => text.trim() !== '')
})

/** What is wrong with a party's written form. */
export const partyProblems = (document: unknown): Problem[] => problemsOf(schema, document)
