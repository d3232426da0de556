import { number } from '../../../kinds'
import { defineFault, faultSlots } from './fault'

/** Samples that a signal can be late: an hour of readings at 400 Hz would be memory for nothing. */
const mostSamples = 20_000

/** Rounding of a delay that is a whole number of samples. */
const slack = 1e-6

export const lateFault = defineFault({
  name: 'lateFault',
  label: 'late',
  says: 'At {at}, {signal} comes {delay} late.',
  about: 'Whoever reads the signal gets what it was so long ago, counted up to whole samples of the signal.',
  slots: {
    at: faultSlots.at,
    signal: faultSlots.signal,
    delay: number({ label: 'delay', unit: 's', above: 0, most: 10, otherwise: 0.1 }),
  },
  alters: {
    memory: ({ delay = 0.1 }, dt) => Math.min(mostSamples, Math.max(1, Math.ceil(delay / dt - slack))),
    step: ({ value, memory }) => ({ value: memory[0]!, memory: memory.map((_, i) => memory[i + 1] ?? value) }),
  },
})
