import { add, mul, sub } from '../../expression'
import { number } from '../../kinds'
import { cueSlots, defineCue } from './cue'
import type { ReadCue } from './cue'
import { trapezoid } from './restToRest'

export const travelSlots = {
  loop: cueSlots.loop,
  at: cueSlots.at,
  by: cueSlots.by,
  speed: number({ label: 'most speed', unit: '', above: 0, note: 'units of the held quantity in a second' }),
  acceleration: number({ label: 'most acceleration', unit: '', above: 0, note: 'the same in a second' }),
} as const

const move = (read: ReadCue) => trapezoid(read('by'), read('speed'), read('acceleration'))

export const trapezoidCue = defineCue({
  name: 'trapezoidCue',
  label: 'trapezoid of speed',
  lane: 'commands',
  says: 'From {at}, {loop} travels by {by}, at most {speed} fast and {acceleration} gaining.',
  about:
    'From rest to rest with constant acceleration, cruise and constant deceleration; a short travel has no cruise. Lynch & Park, Modern Robotics, 2017, section 9.2.2.2 (from memory).',
  slots: travelSlots,
  value: (t, read) => mul(read('by'), move(read).share(sub(t, read('at')))),
  ends: (read) => add(read('at'), move(read).lasts),
})
