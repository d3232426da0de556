import { less, mul, select } from '../../expression'
import { number } from '../../kinds'
import { defineLaw } from '../law'

export const relay = defineLaw({
  name: 'relay',
  label: 'relay',
  says: 'a relay of {amplitude} with {hysteresis} of hysteresis',
  about:
    'command = amplitude or its negative, by the sign of the error; it changes over once the error has passed the hysteresis. It makes a loop swing by itself, from which the edge of swinging is found: Åström & Hägglund, Automatica 20 (1984).',
  slots: {
    amplitude: number({ label: 'amplitude', unit: '', above: 0, otherwise: 1 }),
    hysteresis: number({ label: 'hysteresis', unit: '', least: 0, otherwise: 0 }),
  },
  gains: [],
  readsRate: false,
  memory: ['side'],
  notLinear: 'A relay has no gain: it always pushes fully. Look at its swing in the step instead.',
  step: ({ error }, [side], _gains, { amplitude, hysteresis }) => {
    // the side starts at 0: then the error alone decides
    const level = mul(-hysteresis, side!)
    const next = select(less(level, error), 1, select(less(error, level), -1, select(less(side!, 0), -1, 1)))
    return { terms: { relay: mul(amplitude, next) }, memory: [next] }
  },
})
