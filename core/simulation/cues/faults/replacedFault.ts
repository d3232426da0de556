import { formula } from '../../../kinds'
import { parseFormula, marked } from '../../../formula'
import { defineFault, faultSlots } from './fault'

export const replacedFault = defineFault({
  name: 'replacedFault',
  label: 'replaced by a formula',
  says: 'At {at}, {signal} becomes {formula}, coming over {over}.',
  about:
    'Whoever reads the signal gets what the formula makes of it: `value` is the signal itself, `t` the time of the run, `since` the time since it began, and any signal of the run by its name.',
  slots: { ...faultSlots, formula: formula({ label: 'formula', unit: '' }) },
  problems: (where, { formula: text }) => {
    const read = parseFormula(text)
    return read.kind === 'wrong' ? [marked(`${where}.formula`, text, read)] : []
  },
  alters: {
    step: ({ value, t, since, signal }, { formula: text }) => {
      const read = parseFormula(text)
      if (read.kind === 'wrong') return { value }
      const own = new Map([
        ['value', value],
        ['t', t],
        ['since', since],
      ])
      return { value: read.formula.value((one) => own.get(one) ?? signal(one)) }
    },
  },
})
