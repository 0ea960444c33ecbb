/** The key of a step of an incident for one channel. It is unique: the same step is never written down twice. */
export const stepKey = (incident: number, news: string, route: string, step: number, round: number, channel: number): string => `incident/${incident}/${news}/${route}/${step}/${round}/${channel}`
export const overKey = (incident: number, channel: number): string => `incident/${incident}/over/${channel}`

/** The route of a step's key; undefined for messages that no route caused. */
export const routeOfKey = (key: string): string | undefined => (/^incident\/\d+\/(?:down|slow)\//.test(key) ? key.split('/')[3] : undefined)

/** What the messages of one step have in common, whatever channel they go by. */
export const momentOfKey = (key: string): string => key.replace(/\/[^/]*$/, '').replace(/\/instead$/, '')

/** The key of a message that stands in for one that could not be sent: the same for all that failed of one step and receiver. */
export const insteadKey = (key: string, channel: number): string => `${momentOfKey(key)}/instead/${channel}`
