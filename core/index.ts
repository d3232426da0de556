export { checkDocument, documentSchema, groups, parseDocument } from './check'
export { parameter } from './parameter'
export type { Checked } from './check'
