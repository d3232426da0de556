export { parseFormula, unknownName } from './parseFormula'
export { isFormula, resolveFormulas } from './resolve'
export { renameParameter } from './rename'
export type { Formula, ParsedFormula } from './parseFormula'
