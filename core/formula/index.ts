export { parseFormula, unknownName } from './parseFormula'
export { isFormula, marked, resolveFormulas } from './resolve'
export { renameParameter, renamedFormula } from './rename'
export type { Formula, ParsedFormula } from './parseFormula'
