import type { Part } from '@calm-hand/core/document'
import { shortName } from '@calm-hand/core/machine'
import { findColumn } from '@calm-hand/core/simulation'
import type { ModelReport } from '@calm-hand/core/simulation'
import { Chart, axisOver, niceDomain, niceTicks } from '../../../chart'
import type { Series } from '../../../chart'
import { shownUnit, toShown } from '../../../units'

interface SignalGridProps {
  readonly machine: Part
  readonly report: ModelReport | undefined
  readonly names: readonly string[]
  readonly units: Readonly<Record<string, string>>
}

/** Every state and output from the start of the machine, inputs at their nominal values. */
export function SignalGrid({ machine, report, names, units }: SignalGridProps) {
  if (report === undefined) return <p className="note p-4">Letting it go ...</p>
  const { swing } = report
  const end = swing.time.at(-1) ?? 1
  return (
    <div
      className="h-full overflow-auto grid gap-x-4 gap-y-2 px-3 pt-2 pb-1 grid-cols-[repeat(auto-fill,minmax(230px,1fr))] auto-rows-[118px]"
      tabIndex={0}
      aria-label="Free motion"
    >
      {names.map((name) => {
        const unit = units[name] ?? ''
        const words = shortName(name, machine)
        const values = findColumn(swing as never, name)?.map((value) => toShown(value, unit)) ?? []
        const series: Series[] = [{ name: words, role: 'actual', xs: swing.time, ys: values }]
        const domain = niceDomain([values])
        return (
          <Chart
            key={name}
            title={words}
            unit={shownUnit(unit)}
            x={{ domain: [0, end], ticks: niceTicks(0, end, 4), label: 'time' }}
            y={axisOver(domain, 3)}
            series={series}
            legend={false}
            summary={`${words} over ${end.toPrecision(3)} s from its start, inputs at their nominal values.`}
          />
        )
      })}
    </div>
  )
}
