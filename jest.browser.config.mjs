import unit from './jest.config.mjs'

/** Tests that drive the running application in a real browser and over its API. */
export default { ...unit, roots: ['<rootDir>/tests'], maxWorkers: 1, testTimeout: 120_000, forceExit: true }
