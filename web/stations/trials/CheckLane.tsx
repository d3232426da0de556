import { partsIn } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { checks as checkKinds, signalsOf } from '@calm-hand/core/simulation'
import { useOpen } from '../../state/project'
import { stripMargin } from './strips/lines'
import type { TrialView } from './useTrialView'

const [rowHeight, barHeight] = [18, 4]

/** Since when each check counts, where it failed, and when it was nearest, under the cues on the same clock. */
export function CheckLane({ view, end }: { readonly view: TrialView; readonly end: number }) {
  const document = useOpen((project) => project.valid)
  const list = Object.entries(partsIn(document.trials[view.trial]!.checks))
  if (list.length === 0 || view.verdicts === undefined) return null
  const known = signalsOf(document, view.trial, view.record)
  const rows = view.verdicts.flatMap((verdict) => {
    const part = list.find(([key]) => key === verdict.check)?.[1]
    const kind = part === undefined ? undefined : findKind(checkKinds, part)
    if (part === undefined || kind === undefined) return []
    const looked = kind.signals(part)[0] ?? ''
    const name = known.find((one) => one.name === looked)?.label ?? looked
    const from = typeof part.from === 'number' ? part.from : 0
    return [{ ...verdict, from: Math.min(from, end), words: name === '' ? kind.label : `${name} ${kind.label}` }]
  })
  const place = (t: number) => `calc(${stripMargin.left}px + (100% - ${stripMargin.left + stripMargin.right}px) * ${t / end})`
  return (
    <div
      className={`relative ${view.stale ? 'opacity-50' : ''}`}
      style={{ height: rows.length * rowHeight + 4 }}
      aria-label="Checks in time"
    >
      {rows.map(({ check, from, outcome, failedAt, at, words }, i) => {
        const bar = (start: number, stop: number, look: string) => (
          <span
            className={`absolute rounded-[2px] ${look}`}
            style={{
              left: place(start),
              width: `calc((100% - ${stripMargin.left + stripMargin.right}px) * ${(stop - start) / end})`,
              height: barHeight,
              top: i * rowHeight + 14,
            }}
          />
        )
        // what is known at the end only counts for all of it
        const failed = outcome !== 'fails' ? end : (failedAt ?? end) >= end ? from : Math.max(from, failedAt!)
        return (
          <div key={check} title={words} data-lane={check}>
            {bar(
              from,
              failed,
              outcome === 'open' ? 'border border-dashed border-line-2' : 'bg-[var(--band)] border-b-2 border-kelp',
            )}
            {outcome === 'fails' && bar(failed, end, 'bg-coral')}
            {at !== undefined && outcome !== 'open' && (
              <span
                className="absolute w-px bg-ink"
                style={{ left: place(Math.min(at, end)), height: barHeight + 4, top: i * rowHeight + 12 }}
              />
            )}
            <span
              className="absolute text-[11px] leading-[13px] text-mist truncate max-w-[80%]"
              style={{ left: place(0), top: i * rowHeight + 1 }}
            >
              {words}
            </span>
          </div>
        )
      })}
    </div>
  )
}
