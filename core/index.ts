export { checkDocument, documentSchema, groups, parseDocument } from './check'
export type { Checked } from './check'
