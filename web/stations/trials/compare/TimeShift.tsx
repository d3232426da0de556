import { Chart, VerticalMark, axisOver } from '../../../chart'
import { SlotAt } from '../../../sentence'
import { setValue } from '../../../state/edits'
import { edit } from '../../../state/project'
import type { Comparison } from './useComparison'

/** How late the record is, and what its course says of that. */
export function TimeShift({ comparison }: { readonly comparison: Comparison }) {
  const { told, part, path, signals } = comparison
  const shift = told?.shift
  if (told?.measured === undefined) return null
  const late = Number(part.late)
  const label = signals.find(({ name }) => name === shift?.signal)?.label ?? ''
  const proposed = shift === undefined ? undefined : Number(shift.best.toFixed(3))
  return (
    <section className="section" aria-label="Time shift">
      <div className="flex items-baseline gap-2">
        <h3 className="grow">Time shift</h3>
        <span className="note">
          late by <SlotAt path={`${path}.late`} />
        </span>
      </div>
      {shift === undefined || proposed === undefined ? (
        <p className="note">Nothing in both moves alike enough to tell how late the record is.</p>
      ) : (
        <>
          <p className="text-[13px] flex items-baseline gap-2">
            <span className="grow">
              <b className="number font-medium">{proposed} s</b> by how fast {label} changes: alike to{' '}
              <span className="number">{shift.likeness.toFixed(3)}</span>, as it stands{' '}
              <span className="number">{shift.unmoved.toFixed(3)}</span>
            </span>
            {Math.abs(proposed - late) > 5e-4 && (
              <button className="button small" onClick={() => edit(setValue(`${path}.late`, proposed, 'Take the shift over'))}>
                Take {proposed} s
              </button>
            )}
          </p>
          <div className="h-[104px] grid">
            <Chart
              title="Likeness"
              unit="over shift, s"
              x={{ ...axisOver([shift.lag[0]!, shift.lag.at(-1)!], 5), label: 'late by, s' }}
              y={axisOver([Math.min(0, ...shift.value), 1], 2)}
              series={[{ name: 'likeness', role: 'estimate', xs: shift.lag, ys: shift.value }]}
              legend={false}
              summary={`The record is most like the run where it is taken to be ${proposed} s late.`}
            >
              <VerticalMark at={late} tone="ink" />
              <VerticalMark at={proposed} tone="kelp" dash="3 3" />
            </Chart>
          </div>
        </>
      )}
    </section>
  )
}
