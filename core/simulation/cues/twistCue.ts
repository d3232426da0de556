import { choice, name } from '../../kinds'
import { defineCue } from './cue'
import { axesSlot, componentsIn, pushEnds, pushShapes, pushSlots, pushed, shapeAt, swingsOf } from './pushing'

export const twistCue = defineCue({
  name: 'twistCue',
  label: 'twist',
  lane: 'disturbances',
  says: 'At {at}, {body} is twisted {shape} for {over} by {x} about x, {y} about y, {z} about z of {axes}.',
  about: 'A torque on a body while it lasts: the same all the time, half a period of a sine, or 1 - cosine.',
  slots: {
    ...pushSlots,
    body: name({ label: 'body', of: 'body' }),
    ...componentsIn('N·m'),
    axes: axesSlot,
    shape: choice({ label: 'course', options: pushShapes, otherwise: 'steady' }),
  },
  ends: pushEnds,
  adds: (cue) => {
    const { shape = 'steady', over } = cue
    return pushed(cue, 'torque', (now) => shapeAt(shape, now), swingsOf(shape, over))
  },
})
