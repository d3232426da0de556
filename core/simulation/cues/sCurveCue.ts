import { add, mul, sub } from '../../expression'
import { number } from '../../kinds'
import type { ReadCue } from './cue'
import { sCurve } from './restToRest'
import { travelSlots } from './trapezoidCue'
import { defineCue } from './cue'

const move = (read: ReadCue) => sCurve(read('by'), read('speed'), read('acceleration'), read('jerk'))

export const sCurveCue = defineCue({
  name: 'sCurveCue',
  label: 'S-curve',
  lane: 'commands',
  says: 'From {at}, {loop} travels by {by}, at most {speed} fast, {acceleration} gaining and {jerk} of jerk.',
  about:
    'The trapezoid with its jerk limited: seven segments, of which a short travel needs fewer. Lynch & Park, Modern Robotics, 2017, section 9.2.2.3 (from memory).',
  slots: { ...travelSlots, jerk: number({ label: 'most jerk', unit: '', above: 0, note: 'the acceleration in a second' }) },
  value: (t, read) => mul(read('by'), move(read).share(sub(t, read('at')))),
  ends: (read) => add(read('at'), move(read).lasts),
})
