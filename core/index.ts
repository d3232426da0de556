export { checkDocument, documentSchema, groups, parseDocument, withRenamedParameter } from './check'
export { parameter } from './parameter'
export type { Checked } from './check'
