import { add, div, exp, max, mul, neg, sub } from '../../expression'
import { number } from '../../kinds'
import { cueSlots, defineCue } from './cue'

/** Time constants after which a first-order approach is called over: 2 % are left. */
const timeConstants = 4

export const approachCue = defineCue({
  name: 'approachCue',
  label: 'first-order approach',
  lane: 'commands',
  says: 'From {at}, {loop} is asked to rise by {by}, ever slower, with a time constant of {timeConstant}.',
  about: 'by (1 - e^(-(t - at)/T)): what a first-order lag makes of a step. It counts as over after four time constants.',
  slots: {
    loop: cueSlots.loop,
    at: cueSlots.at,
    by: cueSlots.by,
    timeConstant: number({ label: 'time constant', unit: 's', above: 0, most: 1e5 }),
  },
  value: (t, read) => {
    const since = max(sub(t, read('at')), 0)
    return mul(read('by'), sub(1, exp(neg(div(since, read('timeConstant'))))))
  },
  ends: (read) => add(read('at'), mul(timeConstants, read('timeConstant'))),
})
