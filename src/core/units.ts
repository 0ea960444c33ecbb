/** A span of time in milliseconds. */
export type Milliseconds = number
/** A point in time: milliseconds since 1970-01-01T00:00:00Z. */
export type Instant = number

export const SECOND: Milliseconds = 1000
export const MINUTE: Milliseconds = 60 * SECOND
export const HOUR: Milliseconds = 60 * MINUTE
export const DAY: Milliseconds = 24 * HOUR
