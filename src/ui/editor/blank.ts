/** The key and the name of a check that has none yet, and the address of one that goes nowhere yet. */
export const NEW_KEY = 'new-check'
export const NEW_NAME = 'New check'
export const NO_ADDRESS = 'https://address.invalid/'
