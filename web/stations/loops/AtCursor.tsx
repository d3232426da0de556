import { whoPushes } from '@calm-hand/core/tuning'
import type { Pushing } from '@calm-hand/core/tuning'
import { useCursors } from '../../chart'
import type { Judged } from '../../compute/loops/loopView'

const named: Readonly<Record<string, string>> = {
  proportional: 'the error term',
  integral: 'the integral',
  rate: 'the rate term',
  derivative: 'the rate term',
  forward: 'what is carried beforehand',
  filters: 'the filters',
}
const mostTold = 3

/** Who pushes at the cursor in time: which term drives or brakes, and with how much of the whole. */
export function AtCursor({ now }: { readonly now: Judged }) {
  const at = useCursors(({ time }) => time)
  const { dt, sense } = now.design
  const { t } = now.step
  const last = t.at(-1) ?? 0
  if (at === undefined || at > last) return <p className="note truncate pl-2">Point at a chart: who pushes is told here.</p>
  const all = whoPushes(now.step, Math.min(t.length - 1, Math.floor(at / dt + 1e-9)), sense)
  return (
    <p className="note pl-2 line-clamp-2" role="status">
      At <span className="number">{at.toPrecision(3)} s</span>{' '}
      {all.length === 0
        ? 'nothing pushes.'
        : all.slice(0, mostTold).map((one, i) => (
            <span key={one.term}>
              {i > 0 && ', '}
              {said(one)}
            </span>
          ))}
      {all.length > 0 && '.'}
    </p>
  )
}

function said({ term, share, does }: Pushing): string {
  return `${named[term] ?? `the term of ${term}`} ${does} with ${(100 * share).toFixed(0)} %`
}
