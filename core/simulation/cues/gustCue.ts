import { mul } from '../../expression'
import { choice } from '../../kinds'
import { defineCue } from './cue'
import type { CueNow } from './cue'
import { componentsIn, pushEnds, pushShapes, pushSlots, shapeAt, swingsOf } from './pushing'

export const gustCue = defineCue({
  name: 'gustCue',
  label: 'gust',
  lane: 'disturbances',
  says: 'At {at}, a gust of {x} along x, {y} along y, {z} along z blows {shape} for {over}.',
  about:
    'Wind that is added to that of the surroundings while it lasts, everywhere alike. 1 - cosine is the discrete gust of handbooks. What feels no air, or a trial with the layer Wind off, does not feel it.',
  slots: {
    ...pushSlots,
    ...componentsIn('m/s'),
    shape: choice({ label: 'course', options: pushShapes, otherwise: 'oneCosine' }),
  },
  ends: pushEnds,
  adds: ({ shape = 'oneCosine', over }) => ({
    group: 'surroundings',
    part: { kind: 'steadyWind', velocity: [1, 1, 1] },
    swings: swingsOf(shape, over),
    numbers: Object.fromEntries(
      ['x', 'y', 'z'].map((slot, i) => [
        `velocity.${i}`,
        (now: CueNow) => mul(mul(now.read(slot), shapeAt(shape, now)), now.share),
      ]),
    ),
  }),
})
