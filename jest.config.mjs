export default {
  testEnvironment: 'node',
  roots: ['<rootDir>/src', '<rootDir>/standins'],
  testMatch: ['**/*.test.ts'],
  transform: { '^.+\\.(t|j|mj)sx?$': ['@swc/jest', { jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022' } }] },
  transformIgnorePatterns: ['/node_modules/(?!(@date-fns/tz|date-fns|json-p3|yaml|@seriousme|remark-[a-z]+|unified|mdast-util-[a-z-]+|micromark[a-z-]*|unist-util-[a-z-]+|vfile[a-z-]*|bail|trough|is-plain-obj|devlop|decode-named-character-reference|character-entities|ccount|escape-string-regexp|markdown-table|longest-streak|zwitch|pdfkit|fontkit|@noble|fflate|linebreak|png-js)/)'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  forceExit: true
}
