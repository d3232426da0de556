export { checkDocument, documentSchema, groups, parseDocument, withRenamedParameter } from './check'
export { documentJsonSchema } from './jsonSchema'
export { parameter } from './parameter'
export type { Checked } from './check'
