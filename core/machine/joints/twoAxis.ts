import { cos, neg, sin } from '../../expression'
import { applied, cross, origin, rowsTimes, scaled, transposedRows, turnAbout } from '../../algebra'
import { axisSlot, placeSlots } from './slots'
import { defineJoint } from './joint'

/**
 * Two turns in a row: about `first`, fixed in what it hangs on, then about `second`, fixed in the body (universal
 * joint). With E2 the second turn, S = [E2ᵀ a1, a2] in body axes, and its change is E2ᵀ (a1 x a2) q1' q2'.
 */
export const twoAxis = defineJoint({
  name: 'twoAxis',
  label: 'turns about two axes on',
  says: 'turns on {on} about {first}, then about {second}',
  about:
    'Two turns in a row: about an axis of what it hangs on, then about one of the body. By composition of two turning joints.',
  slots: { ...placeSlots, first: axisSlot('first axis'), second: axisSlot('second axis') },
  positions: [
    { name: 'firstAngle', unit: 'rad', angle: 'countsTurns' },
    { name: 'secondAngle', unit: 'rad', angle: 'countsTurns' },
  ],
  speeds: [
    { name: 'firstRate', unit: 'rad/s' },
    { name: 'secondRate', unit: 'rad/s' },
  ],
  goInPairs: true,
  rest: [0, 0],
  axes: ['first', 'second'],
  motion: ({ first, second }) => {
    const turn = (axis: typeof first, angle: Parameters<typeof cos>[0] | undefined) => turnAbout(axis!, cos(angle!), sin(angle!))
    return {
      pose: ([a, b]) => ({ rotation: rowsTimes(turn(first, a), turn(second, b)), position: origin }),
      subspace: ([, b]) => [
        { angular: applied(transposedRows(turn(second, b)), first!), linear: origin },
        { angular: second!, linear: origin },
      ],
      // d(E2ᵀ a1)/dt = -b' a2 x (E2ᵀ a1)
      bias: ([, b], [aRate, bRate]) => {
        const seen = applied(transposedRows(turn(second, b)), first!)
        return { angular: scaled(scaled(cross(second!, seen), neg(bRate!)), aRate!), linear: origin }
      },
      rates: (_q, speeds) => speeds,
    }
  },
})
