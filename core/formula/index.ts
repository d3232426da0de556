export { parseFormula, unknownName } from './parseFormula'
export { isFormula, resolveFormulas } from './resolve'
export type { Formula, ParsedFormula } from './parseFormula'
