import { useState } from 'react'
import { useAnswer } from '../../../compute'
import { Chart, VerticalMark, axisOver, niceDomain } from '../../../chart'
import type { Series, SeriesRole } from '../../../chart'
import { ChoiceField } from '../../../sentence'
import { frequencyAxis } from './axes'
import type { LookProps } from './look'

const roles: readonly SeriesRole[] = ['estimate', 'command', 'prediction']

/** The plant a loop sees as it is, sampled with its hold, and with fewer states, by what they answer at each frequency. */
export function Forms({ document, loop, now }: LookProps) {
  const [wanted, setWanted] = useState<number>()
  const found = useAnswer('forms', document, [loop, wanted], { subject: loop, rank: 2 }).answer
  if (found === undefined) return null
  const { frequencies, curves, states: most, order, words } = found
  const series = (column: 'gain' | 'phase'): Series[] =>
    curves.map(({ name, ...one }, i) => ({ name, role: roles[i]!, xs: frequencies, ys: one[column] }))
  const [lowest, highest] = extent(series('gain'))
  const domain = niceDomain([], [Math.max(lowest, highest - mostDecibels), highest])
  const orders = Object.fromEntries(Array.from({ length: most }, (_, i) => [String(i + 1), `${i + 1} of ${most} states`]))
  return (
    <div className="h-full grid grid-cols-[minmax(0,1fr)] grid-rows-[auto_5fr_4fr] min-h-0">
      <p className="text-[12px] leading-[18px] pl-1">
        Beside it with{' '}
        <ChoiceField
          label="how many states are kept"
          value={String(order)}
          options={orders}
          onChoose={(next) => setWanted(Number(next))}
        />
        , those that count most. {words}
      </p>
      <Chart
        title="Plant"
        unit="dB"
        x={frequencyAxis}
        y={axisOver(domain, 5)}
        series={series('gain')}
        cursor="frequency"
        summary={`Gain of ${curves.map(({ name }) => name).join(', ')}.`}
      />
      <Chart
        title="Phase"
        unit="deg"
        x={frequencyAxis}
        y={{ domain: [-360, 90], ticks: [-360, -270, -180, -90, 0] }}
        series={series('phase')}
        legend={false}
        cursor="frequency"
        summary={`Phase of ${curves.map(({ name }) => name).join(', ')}.`}
      >
        {now.analysis.crossover !== undefined && <VerticalMark at={now.analysis.crossover} />}
      </Chart>
    </div>
  )
}

/** Far below the largest gain nothing matters. */
const mostDecibels = 120

function extent(series: readonly Series[]): [number, number] {
  const all = series.flatMap(({ ys }) => Array.from(ys)).filter(Number.isFinite)
  return [Math.min(...all, 0), Math.max(...all, -mostDecibels)]
}
