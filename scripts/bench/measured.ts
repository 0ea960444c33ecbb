/** One row of the table that the bench prints. */
export interface Measured { what: string; budget: string; measured: string; met: boolean }
