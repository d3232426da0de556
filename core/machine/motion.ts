import { nameRemedy, partsIn } from '../document'
import type { Part, Problem } from '../document'
import { choice, name, namesIn, number, table } from '../kinds'
import type { Kind } from '../kinds'
import { risingProblemsAt } from './interpolate'

/** A motion of some joints through poses at times. */
export const motion = {
  name: 'motion',
  says: '{coordinates} go through {knots}, {passing}; loops of {bandwidth} follow.',
  about:
    'Poses with times: each row is a time in s and one position a coordinate. Passing on they are joined by a cubic spline that starts and ends at rest; stopping at each they follow a polynomial of least jerk (Flash & Hogan, J. Neurosci. 5, 1985, from memory).',
  slots: {
    coordinates: name({ label: 'coordinates, in the order of the columns', of: 'coordinates' }),
    knots: table({ label: 'poses' }),
    passing: choice({ label: 'between poses', options: { on: 'passing on', stop: 'stopping at each' } }),
    bandwidth: number({ label: 'bandwidth of the loops that follow', unit: 'rad/s', above: 0, otherwise: 20 }),
  },
} as const satisfies Kind

/** Names of the coordinates that a motion moves. */
export function movedCoordinates(part: Part): string[] {
  return namesIn(part.coordinates)
}

export function motionProblems(path: string, machine: Part, known: readonly string[]): Problem[] {
  return Object.entries(partsIn(machine.motions)).flatMap(([name, part]): Problem[] => {
    const own = `${path}.motions.${name}`
    const names = movedCoordinates(part)
    const stranger = names.find((one) => !known.includes(one))
    if (names.length === 0)
      return [
        {
          where: `${own}.coordinates`,
          what: 'The motion moves nothing.',
          remedy: `Name coordinates, such as ${known[0] ?? 'boom.angle'}.`,
        },
      ]
    if (stranger !== undefined) {
      const remedy = nameRemedy(stranger, known)
      return [{ where: `${own}.coordinates`, what: `There is no coordinate named ${stranger}.`, remedy }]
    }
    const twice = names.find((one, i) => names.indexOf(one) !== i)
    if (twice !== undefined)
      return [{ where: `${own}.coordinates`, what: `${twice} is named twice.`, remedy: 'Name each coordinate once.' }]
    const rows = part.knots as readonly (readonly number[])[]
    const uneven = rows.findIndex((row) => row.length !== names.length + 1)
    if (uneven >= 0) {
      const what = `Pose ${uneven + 1} has ${rows[uneven]!.length} numbers; ${names.length + 1} are wanted: the time, then ${names.join(', ')}.`
      return [{ where: `${own}.knots`, what, remedy: 'Give each row a time and one position for each coordinate.' }]
    }
    return risingProblemsAt(own, rows, 'knots')
  })
}
