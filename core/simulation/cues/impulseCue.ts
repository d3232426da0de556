import { div, mul } from '../../expression'
import { number } from '../../kinds'
import { cueSlots, defineCue } from './cue'
import type { CueNow } from './cue'
import { axesSlot, componentsIn, placeSlots, pushEnds, pushed, shapeAt, swingsOf } from './pushing'

export const impulseCue = defineCue({
  name: 'impulseCue',
  label: 'impulse',
  lane: 'disturbances',
  says: 'At {at}, {body} gets an impulse of {x} along x, {y} along y, {z} along z of {axes} within {over}, at {px}, {py}, {pz} of it.',
  about:
    'A blow: half a period of a sine with this impulse, which is the force over its time, pi/(2 over) at its highest for each N·s.',
  slots: {
    at: cueSlots.at,
    ...placeSlots,
    ...componentsIn('N·s'),
    axes: axesSlot,
    over: number({ label: 'duration', unit: 's', least: 1e-4, most: 10, otherwise: 0.02 }),
  },
  ends: pushEnds,
  adds: (cue) => {
    const size = (now: CueNow) => mul(shapeAt('halfSine', now), div(Math.PI / 2, now.read('over')))
    return pushed(cue, 'force', size, swingsOf('halfSine', cue.over ?? 0.02))
  },
})
