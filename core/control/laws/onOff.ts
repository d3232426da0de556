import { less, select } from '../../expression'
import { number } from '../../kinds'
import { defineLaw } from '../law'

export const onOff = defineLaw({
  name: 'onOff',
  label: 'on and off',
  says: 'on above an error of {zone}, off within it',
  about:
    'command = the upper value where the error is above the dead zone, the lower value where it is below its negative, and nothing between. With a lower value of 0 it only ever pushes one way.',
  slots: {
    zone: number({ label: 'dead zone', unit: '', least: 0, otherwise: 0.1 }),
    upper: number({ label: 'command above', unit: '', otherwise: 1 }),
    lower: number({ label: 'command below', unit: '', otherwise: -1 }),
  },
  gains: [],
  readsRate: false,
  memory: [],
  notLinear: 'It pushes fully or not at all, so it has no gain. Look at its step instead.',
  step: ({ error }, _memory, _gains, { zone, upper, lower }) => {
    const [half, most, least] = [zone, upper, lower] as [number, number, number]
    return { terms: { switched: select(less(half, error), most, select(less(error, -half), least, 0)) }, memory: [] }
  },
})
