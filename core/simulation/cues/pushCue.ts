import { choice } from '../../kinds'
import { defineCue } from './cue'
import { axesSlot, componentsIn, placeSlots, pushEnds, pushShapes, pushSlots, pushed, shapeAt, swingsOf } from './pushing'

export const pushCue = defineCue({
  name: 'pushCue',
  label: 'push',
  lane: 'disturbances',
  says: 'At {at}, {body} is pushed {shape} for {over} by {x} along x, {y} along y, {z} along z of {axes}, at {px}, {py}, {pz} of it.',
  about: 'A force on a point of a body while it lasts: the same all the time, half a period of a sine, or 1 - cosine.',
  slots: {
    ...pushSlots,
    ...placeSlots,
    ...componentsIn('N'),
    axes: axesSlot,
    shape: choice({ label: 'course', options: pushShapes, otherwise: 'steady' }),
  },
  ends: pushEnds,
  adds: (cue) => {
    const { shape = 'steady', over } = cue
    return pushed(cue, 'force', (now) => shapeAt(shape, now), swingsOf(shape, over))
  },
})
