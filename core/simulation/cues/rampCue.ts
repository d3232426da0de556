import { add, clamp, div, mul, sub } from '../../expression'
import { cueSlots, defineCue } from './cue'

export const rampCue = defineCue({
  name: 'rampCue',
  label: 'ramp',
  lane: 'commands',
  says: 'From {at}, {loop} is asked to rise by {by} over {over}.',
  about: 'The reference of the loop goes by this much along a straight line.',
  slots: cueSlots,
  value: (t, read) => mul(read('by'), clamp(div(sub(t, read('at')), read('over')), 0, 1)),
  ends: (read) => add(read('at'), read('over')),
})
