import { formula } from '../../kinds'
import { defineCheck } from './check'
import type { Judgement } from './check'
import { conditionProblems, signalsIn, watch } from './conditions'

export const happensBefore = defineCheck({
  name: 'happensBefore',
  label: 'one thing before another',
  says: '{first} happens before {second}.',
  about:
    'Two conditions, each at the instant at which it holds for the first time, between rows along a straight line. Margin: the time from the first to the second; to the end of the run where the second never comes.',
  slots: {
    first: formula({ label: 'what comes first', unit: '' }),
    second: formula({ label: 'what comes after it', unit: '' }),
  },
  signals: ({ first, second }) => [...new Set([...signalsIn(first), ...signalsIn(second)])],
  starts: ({ signal, limit }) => ({ first: `${signal} > ${0.5 * limit}`, second: `${signal} > ${limit}` }),
  problems: (where, { first, second }) => [
    ...conditionProblems(`${where}.first`, first),
    ...conditionProblems(`${where}.second`, second),
  ],
  judge: ({ first, second }, run): Judgement => {
    const [one, other] = [watch(first, run), watch(second, run)]
    if ('outcome' in one) return one
    if ('outcome' in other) return other
    const end = run.time.at(-1) ?? 0
    if (one.since === undefined && other.since === undefined)
      return { outcome: 'open', unit: 's', why: 'Neither of the two happens in this run. Let the trial last longer.' }
    const margin = (other.since ?? end) - (one.since ?? end)
    const found = { margin, unit: 's', at: one.since ?? end }
    if (one.since !== undefined && (other.since === undefined || margin > 0)) return { outcome: 'holds', ...found }
    return { outcome: 'fails', ...found, failedAt: other.since! }
  },
})
