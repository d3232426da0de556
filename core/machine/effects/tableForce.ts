import { mul, neg } from '../../expression'
import { table } from '../../kinds'
import { interpolated, risingProblems } from '../interpolate'
import { betweenSlots, notNegative, span } from './slots'
import { defineEffect } from './effect'

/** A force between two points, read from a table by their distance. */
export const tableForce = defineEffect({
  name: 'tableForce',
  label: 'force by a table',
  says: 'Between {from} and {to} acts a pull by {pull} of their distance, with {damping} of damping.',
  about:
    'Pull by distance, straight between the points of the table, the first and last value beyond them; negative pushes apart. The damper adds damping × the rate of the distance.',
  slots: {
    ...betweenSlots,
    pull: table({
      label: 'pull',
      columns: [
        { label: 'distance', unit: 'm' },
        { label: 'pull', unit: 'N' },
      ],
      fill: [
        [0, 0],
        [1, 100],
      ],
    }),
    damping: notNegative('damping', 'N·s/m'),
  },
  isSudden: true,
  act: (scene, part) => {
    const { length, rate, pull } = span(scene, part)
    const elastic = interpolated(scene.rows('pull'), length)
    const damped = mul(scene.number('damping'), rate)
    pull(elastic)
    pull(damped)
    return {
      supplied: neg(mul(elastic, rate)),
      dissipated: mul(damped, rate),
      signals: [{ name: 'pull', label: 'pull', unit: 'N', value: elastic }],
    }
  },
  contradictions: ({ pull }) => risingProblems(pull, 'pull'),
})
