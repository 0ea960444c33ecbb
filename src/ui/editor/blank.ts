/** The key of a check that has none yet, and the address of one that goes nowhere yet. */
export const NEW_KEY = 'new-check'
export const NO_ADDRESS = 'https://address.invalid/'
