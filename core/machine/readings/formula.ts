import { choice, formula, name } from '../../kinds'
import { defineReading } from './reading'

/** Whatever follows from others by a formula. */
export const formulaReading = defineReading({
  name: 'formulaReading',
  label: 'formula',
  says: 'It is {reading} in {unit}, {angle}.',
  about:
    'A formula over coordinates and speeds by their names, readings before it, parameters, constants of the machine, and t. An angle that goes round starts again after a turn.',
  slots: {
    reading: formula({ label: 'reading', unit: '' }),
    unit: name({ label: 'unit', of: 'text', optional: true }),
    angle: choice({
      label: 'sort of angle',
      options: { none: 'which is no angle', countsTurns: 'an angle that counts turns', goesRound: 'an angle that goes round' },
      otherwise: 'none',
    }),
  },
  values: ({ unit, angle }) => [
    {
      ...{ name: '', label: 'reading', unit: unit ?? '' },
      ...(angle === undefined || angle === 'none' ? {} : { angle: angle }),
    },
  ],
  reads: (view) => [view.formula('reading')],
})
