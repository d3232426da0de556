import { useMemo, useState } from 'react'
import { balancedReduction, frequencyGrid, responder, withOutputs } from '@calm-hand/core/linear'
import type { StateSpace } from '@calm-hand/core/linear'
import { halfRate } from '@calm-hand/core/tuning'
import { Chart, VerticalMark, niceDomain, niceTicks } from '../../../chart'
import type { Series, SeriesRole } from '../../../chart'
import { ChoiceSlot } from '../../../sentence'
import { decibels, degrees, frequencyAxis } from './axes'
import type { LookProps } from './look'

const every = 4

/** The plant a loop sees as it is, sampled with its hold, and with fewer states, by what they answer at each frequency. */
export function Forms({ now }: LookProps) {
  const { model } = now.design
  const whole = useMemo(() => withOutputs(model.plant, [0]), [model])
  const [wanted, setWanted] = useState<number>()
  const most = whole.a.length
  const order = Math.min(wanted ?? Math.max(1, most - 1), most)
  const reduced = useMemo(() => balancedReduction(whole, order), [whole, order])
  const grid = useMemo(() => {
    const top = halfRate(model) * 0.999
    return frequencyGrid(top / 1e4, top).filter((_, i) => i % every === 0)
  }, [model])
  const forms: readonly [string, SeriesRole, StateSpace | undefined][] = [
    ['as it is', 'estimate', whole],
    ['sampled', 'command', withOutputs(model.sampled, [0])],
    [`${order} states`, 'prediction', reduced.kind === 'done' ? reduced.value.system : undefined],
  ]
  const curves = forms.flatMap(([name, role, system]) => (system === undefined ? [] : [{ name, role, ...curveOf(system, grid) }]))
  const series = (column: 'gain' | 'phase'): Series[] =>
    curves.map(({ name, role, ...one }) => ({ name, role, xs: grid, ys: one[column] }))
  const [lowest, highest] = extent(series('gain'))
  const domain = niceDomain([], [Math.max(lowest, highest - mostDecibels), highest])
  const orders = Object.fromEntries(Array.from({ length: most }, (_, i) => [String(i + 1), `${i + 1} of ${most} states`]))
  return (
    <div className="h-full grid grid-cols-[minmax(0,1fr)] grid-rows-[auto_5fr_4fr] min-h-0">
      <p className="text-[12px] leading-[18px] pl-1">
        Beside it with{' '}
        <ChoiceSlot
          label="how many states are kept"
          value={String(order)}
          options={orders}
          onChoose={(next) => setWanted(Number(next))}
        />
        , those that count most. {reduced.kind === 'refused' ? reduced.problems[0]!.what : leftOut(reduced.value, order)}
      </p>
      <Chart
        title="Plant"
        unit="dB"
        x={frequencyAxis}
        y={{ domain, ticks: niceTicks(...domain, 5) }}
        series={series('gain')}
        cursor="frequency"
        summary={`Gain of ${forms.map(([name]) => name).join(', ')}.`}
      />
      <Chart
        title="Phase"
        unit="deg"
        x={frequencyAxis}
        y={{ domain: [-360, 90], ticks: [-360, -270, -180, -90, 0] }}
        series={series('phase')}
        legend={false}
        cursor="frequency"
        summary={`Phase of ${forms.map(([name]) => name).join(', ')}.`}
      >
        {now.analysis.crossover !== undefined && <VerticalMark at={now.analysis.crossover} />}
      </Chart>
    </div>
  )
}

function leftOut(
  { bound, hankel }: { readonly bound: number | undefined; readonly hankel: readonly number[] },
  order: number,
): string {
  if (order === hankel.length) return 'Nothing is left out.'
  if (bound === undefined) return 'It integrates or runs off, so what is left out has no bound: compare the curves.'
  return `Off by at most ${bound.toPrecision(2)} of what is held for one of the push, at any frequency.`
}

/** Far below the largest gain nothing matters. */
const mostDecibels = 120

function extent(series: readonly Series[]): [number, number] {
  const all = series.flatMap(({ ys }) => Array.from(ys)).filter(Number.isFinite)
  return [Math.min(...all, 0), Math.max(...all, -mostDecibels)]
}

/** Gain in dB, and phase followed from frequency to frequency. */
function curveOf(system: StateSpace, grid: readonly number[]): { gain: number[]; phase: number[] } {
  const respond = responder(system)
  const { dt } = system
  let last = 0
  const points = grid.map((w, i) => {
    const value = respond(dt === null ? { re: 0, im: w } : { re: Math.cos(w * dt), im: Math.sin(w * dt) })?.[0]?.[0]
    if (value === undefined) return { gain: NaN, phase: NaN }
    const raw = Math.atan2(value.im, value.re)
    const near = i === 0 ? raw - (raw > 0.1 ? 2 * Math.PI : 0) : raw + 2 * Math.PI * Math.round((last - raw) / (2 * Math.PI))
    last = near
    return { gain: decibels(Math.hypot(value.re, value.im)), phase: degrees(near) }
  })
  return { gain: points.map(({ gain }) => gain), phase: points.map(({ phase }) => phase) }
}
