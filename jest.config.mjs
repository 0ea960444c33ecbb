export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/src', '<rootDir>/standins'],
  testMatch: ['**/*.test.ts'],
  transform: { '^.+\\.(t|j|mj)sx?$': ['@swc/jest', { jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022' } }] },
  transformIgnorePatterns: ['/node_modules/(?!(@date-fns/tz|date-fns|json-p3|yaml|@seriousme)/)'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  forceExit: true
}
