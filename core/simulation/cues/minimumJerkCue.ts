import { add, clamp, div, mul, sub } from '../../expression'
import { cueSlots, defineCue } from './cue'

export const minimumJerkCue = defineCue({
  name: 'minimumJerkCue',
  label: 'minimum jerk',
  lane: 'commands',
  says: 'From {at}, {loop} glides by {by} over {over}.',
  about:
    'by (10 s³ - 15 s⁴ + 6 s⁵) with s = (t - at)/over: from rest to rest with the least mean square jerk. Flash & Hogan, Journal of Neuroscience 5 (1985).',
  slots: cueSlots,
  value: (t, read) => {
    const s = clamp(div(sub(t, read('at')), read('over')), 0, 1)
    const bracket = add(10, mul(s, sub(mul(6, s), 15)))
    return mul(read('by'), mul(mul(mul(s, s), s), bracket))
  },
  ends: (read) => add(read('at'), read('over')),
})
