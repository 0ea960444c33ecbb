/** The ways a message can go. */
export const MEANS = ['push', 'mail', 'sms', 'voice', 'chat', 'webhook'] as const
export type Means = (typeof MEANS)[number]

/** How each is said in a sentence. */
export const MEANS_WORDS: Record<Means, string> = { push: 'push', mail: 'mail', sms: 'SMS', voice: 'voice', chat: 'chat', webhook: 'webhook' }

/** Means whose address a person has to confirm by a code before anything else goes there. */
export const CONFIRMED_MEANS: readonly Means[] = ['mail', 'sms', 'voice']
