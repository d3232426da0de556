import { sub } from '../../expression'
import { table } from '../../kinds'
import { interpolated, risingProblems } from '../../machine'
import { cueSlots } from './cue'
import type { Cue } from './cue'

const rowsOf = (points: unknown) => points as readonly (readonly number[])[]

export const tableCue: Cue = {
  name: 'tableCue',
  label: 'table',
  says: 'From {at}, {loop} goes along {points}.',
  about: 'The reference of the loop gets the value of the table added: straight lines between its points, its ends held.',
  slots: {
    loop: cueSlots.loop,
    at: cueSlots.at,
    points: table({
      label: 'points',
      columns: [
        { label: 'time since', unit: 's' },
        { label: 'rise', unit: '' },
      ],
      fill: [
        [0, 0],
        [1, 1],
      ],
    }),
  },
  value: (t, read, { points }) =>
    interpolated(
      rowsOf(points).map((_, i) => [read(`points.${i}.0`), read(`points.${i}.1`)]),
      sub(t, read('at')),
    ),
  ends: (read, { points }) => read('at') + read(`points.${rowsOf(points).length - 1}.0`),
  problems: (where, { points }) =>
    risingProblems(rowsOf(points), 'points').map(({ slot, ...words }) => ({ where: `${where}.${slot}`, ...words })),
}
