import { atMost, select } from '../../expression'
import { cueSlots, defineCue } from './cue'

export const stepCue = defineCue({
  name: 'stepCue',
  label: 'step',
  lane: 'commands',
  says: 'At {at}, {loop} is asked to rise by {by} at once.',
  about: 'The reference of the loop steps by this much.',
  slots: { loop: cueSlots.loop, at: cueSlots.at, by: cueSlots.by },
  value: (t, read) => select(atMost(read('at'), t), read('by'), 0),
  ends: (read) => read('at'),
})
