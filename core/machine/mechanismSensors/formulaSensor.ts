import { formula, name } from '../../kinds'
import { defineSensor, errorSlots } from './sensor'

/** Any signal: a formula over coordinates and speeds. */
export const formulaSensor = defineSensor({
  name: 'formulaSensor',
  label: 'sensor of any signal',
  says: 'A sensor reads {reading} in {unit}, {rate#} times a second.',
  about:
    'A formula over coordinates and speeds by their names, readings, parameters, constants of the machine, and t. A reading or coordinate that stands there alone is measured, so that loops can hold it.',
  slots: {
    reading: formula({ label: 'reading', unit: '' }),
    unit: name({ label: 'unit', of: 'text', optional: true }),
    ...errorSlots,
  },
  measures: ({ reading }) => [reading.trim()],
  readings: (part) => [{ name: '', label: 'reading', unit: part.unit ?? '' }],
  reads: (sight) => [sight.formula('reading')],
})
