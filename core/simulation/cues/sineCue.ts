import { and, atMost, less, mul, select, sin, sub, add } from '../../expression'
import { number } from '../../kinds'
import { cueSlots, defineCue } from './cue'

export const sineCue = defineCue({
  name: 'sineCue',
  label: 'sine',
  lane: 'commands',
  says: 'From {at}, {loop} swings by {by} at {frequency} for {over}.',
  about: 'The reference of the loop gets by sin(frequency (t - at)) added while it lasts.',
  slots: {
    ...cueSlots,
    by: number({ label: 'amplitude', unit: '' }),
    frequency: number({ label: 'frequency', unit: 'rad/s', above: 0, most: 1e4 }),
  },
  value: (t, read) => {
    const since = sub(t, read('at'))
    const lasts = and(atMost(0, since), less(t, add(read('at'), read('over'))))
    return select(lasts, mul(read('by'), sin(mul(read('frequency'), since))), 0)
  },
  ends: (read) => add(read('at'), read('over')),
})
