import { add, atMost, div, floor, mul, select, sub } from '../../../expression'
import { number } from '../../../kinds'
import { defineFault, faultSlots } from './fault'

export const loosenedFault = defineFault({
  name: 'loosenedFault',
  label: 'coming and going',
  says: 'From {at}, {signal} comes and goes: it sticks for {gone} of every {period}.',
  about: 'A loose contact: of every period the signal sticks at its last value for a while, first thing, and then comes again.',
  slots: {
    at: faultSlots.at,
    signal: faultSlots.signal,
    gone: number({ label: 'how long it is gone', unit: 's', above: 0, otherwise: 0.1 }),
    period: number({ label: 'period', unit: 's', above: 0, otherwise: 0.5 }),
  },
  problems: (where, { gone = 0.1, period = 0.5 }) =>
    gone < period
      ? []
      : [
          {
            where: `${where}.gone`,
            what: 'It is gone all the time.',
            remedy: 'Make it shorter than the period, or let the signal stick.',
          },
        ],
  alters: {
    memory: () => 1,
    step: ({ value, isOn, since, read, memory: [held] }) => {
      const turn = sub(since, mul(read('period'), floor(div(since, read('period')))))
      // a sample that falls on the edge counts as after it, however the time was rounded
      const comes = atMost(read('gone'), add(turn, 1e-9))
      const shown = select(comes, value, held!)
      return { value: shown, memory: [select(isOn, shown, value)] }
    },
  },
})
