import { choice, formula } from '../../kinds'
import { checkSlots, defineCheck } from './check'
import type { Judgement } from './check'
import { conditionProblems, signalsIn, watch } from './conditions'
import { byMargin, firstRow, judgeRoom, tooLate } from './room'

export const conditionHolds = defineCheck({
  name: 'conditionHolds',
  label: 'a condition',
  says: 'From {from}, {condition} {when}; if not, {ends}.',
  about:
    'Any condition: comparisons joined by not, and, or, with `until` for hysteresis and `for 0.2 s` for one that must last. Its room at an instant: of a comparison the difference of its sides, of `and` the least, of `or` the most, of `not` the opposite (Fainekos & Pappas, Theoretical Computer Science 410, 2009, from memory). Margin: the least room of what always must hold, the most of what once must.',
  slots: {
    from: checkSlots.from,
    condition: formula({ label: 'condition', unit: '' }),
    when: choice({
      label: 'when',
      options: { always: 'always holds', once: 'holds at some time', never: 'never holds' },
      otherwise: 'always',
    }),
    ends: checkSlots.ends,
  },
  signals: ({ condition }) => signalsIn(condition),
  starts: ({ signal, limit }) => ({ condition: `${signal} < ${limit}` }),
  problems: (where, { condition }) => conditionProblems(`${where}.condition`, condition),
  judge: ({ from = 0, condition, when = 'always' }, run): Judgement => {
    const seen = watch(condition, run)
    if ('outcome' in seen) return seen
    const { room, unit } = seen
    if (when !== 'once') return judgeRoom(run, from, unit, (row) => (when === 'always' ? room[row]! : -room[row]!))
    const first = firstRow(run, from)
    if (first === undefined) return tooLate(run, from, unit)
    let at = first
    for (let row = first; row < room.length; row++) if (room[row]! > room[at]!) at = row
    return byMargin({ outcome: 'holds', margin: room[at]!, unit, at: run.time[at]! }, run.time.at(-1)!)
  },
})
