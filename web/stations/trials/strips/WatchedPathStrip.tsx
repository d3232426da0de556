import { useEffect, useMemo, useRef } from 'react'
import { rowAt, signalValues } from '@calm-hand/core/simulation'
import type { Document } from '@calm-hand/core/document'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { Chart, axisOver, equalScales, niceDomain, roleOfLetter, usePlotScales } from '../../../chart'
import type { Series, SeriesRole } from '../../../chart'
import { useClock } from '../../../state/clock'
import { useOpen } from '../../../state/project'
import { shownUnit, signalUnit } from '../../../units'
import type { TrialView, WatchView } from '../useTrialView'
import { lineOf, roleOf } from './lines'
import { windowOf } from './useTimeAxis'
import type { Window } from './useTimeAxis'
import { ProblemsAt } from '../ProblemsAt'
import { WatchSentence } from './WatchSentence'

interface WatchedPathStripProps {
  readonly view: TrialView
  readonly watch: WatchView
  readonly end: number
}

/** px, of the plot: where both are lengths a metre across is as long as one up. */
const height = 250

/** One signal over another, with where it is at the cursor. */
export function WatchedPathStrip({ view, watch, end }: WatchedPathStripProps) {
  const document = useOpen((project) => project.valid)
  const { part, signals } = watch
  const of = (key: string) => signals.find(({ name }) => name === part[key])
  const [up, across] = [of('up'), of('across')]
  const [upUnit, acrossUnit] = [signalUnit(up ?? nothing), signalUnit(across ?? nothing)]
  const [from, to] = windowOf(part as Window, end)
  const series = useMemo(
    () => pathsOf(document, view, watch, [upUnit, acrossUnit], [from, to]),
    [document, view, watch, upUnit, acrossUnit, from, to],
  )
  const [x, y] = [niceDomain(series.map(({ xs }) => xs)), niceDomain(series.map(({ ys }) => ys))]
  const [xDomain, yDomain] = upUnit === acrossUnit ? equalScales(x, y, shape) : [x, y]
  const title = `${up?.label ?? 'nothing'} over ${across?.label ?? 'nothing'}`
  return (
    <div className="shrink-0" data-watched={signals.map(({ name }) => name).join(' ')}>
      <WatchSentence {...{ view, watch }} />
      <ProblemsAt path={`trials.${view.trial}.watch.${watch.key}`} />
      <div className="grid" style={{ height }}>
        <Chart
          title={title}
          unit={`${shownUnit(upUnit)} over ${shownUnit(acrossUnit)}`}
          x={{ ...axisOver(xDomain, 7), label: `${across?.label ?? ''}, ${shownUnit(acrossUnit)}` }}
          y={axisOver(yDomain, 6)}
          series={series}
          summary={`${title}, from ${from} s to ${to.toFixed(2)} s.`}
          heading={
            <h4 className="note">
              {shownUnit(upUnit)} over {shownUnit(acrossUnit)}
            </h4>
          }
        >
          {series.map((one) => (
            <Here key={one.name} record={view.record} series={one} from={from} />
          ))}
        </Chart>
      </div>
    </div>
  )
}

const nothing = { name: '', unit: '' }

/** Width over height of the plot in the panel as it is at first. */
const shape = 2.1

/** Ways of the pinned runs, of what was asked, and of the run. */
function pathsOf(
  document: Document,
  { record, pinned }: TrialView,
  { part }: WatchView,
  [upUnit, acrossUnit]: readonly [string, string],
  [from, to]: readonly [number, number],
): readonly Series[] {
  const path = (run: RunRecord, name: string, role: SeriesRole, up: unknown, across: unknown): Series[] => {
    const [ys, xs] = [up, across].map((one) => (typeof one === 'string' ? signalValues(document, run, one) : undefined))
    if (ys === undefined || xs === undefined) return []
    const [first, last] = [rowAt(run, from), rowAt(run, to)]
    const within = (values: Float64Array, unit: string) => lineOf('', role, [], values.subarray(first, last + 1), unit).ys
    return [{ name, role, xs: within(xs, acrossUnit), ys: within(ys, upUnit) }]
  }
  const asked = record === undefined ? [] : path(record, 'asked', 'reference', part.askedUp, part.askedAcross)
  return [
    ...pinned.flatMap(({ letter, record: run }) => path(run, letter, roleOfLetter(letter), part.up, part.across)),
    ...asked.map((one) => ({ ...one, isSmooth: true })),
    ...(record === undefined ? [] : path(record, 'actual', roleOf(record, String(part.up)), part.up, part.across)),
  ]
}

interface HereProps {
  readonly record: RunRecord | undefined
  readonly series: Series
  /** s, of its first row. */
  readonly from: number
}

/** Where the run and what was asked of it are at the cursor; of other runs nothing. */
function Here({ record, series: { role, xs, ys }, from }: HereProps) {
  const scales = usePlotScales()
  const dot = useRef<SVGCircleElement>(null)
  const isOfRun = !role.startsWith('run')
  useEffect(() => {
    if (scales === undefined || record === undefined || !isOfRun) return
    const place = ({ cursor }: { cursor: number }) => {
      const row = Math.min(Math.max(rowAt(record, cursor) - rowAt(record, from), 0), xs.length - 1)
      dot.current?.setAttribute('cx', String(scales.x(xs[row]!)))
      dot.current?.setAttribute('cy', String(scales.y(ys[row]!)))
    }
    place(useClock.getState())
    return useClock.subscribe(place)
  }, [scales, record, isOfRun, xs, ys, from])
  if (scales === undefined || !isOfRun || xs.length === 0) return null
  const isAsked = role === 'reference'
  return <circle ref={dot} r="4" fill={isAsked ? 'none' : 'var(--kelp)'} stroke={isAsked ? 'var(--ink)' : 'none'} />
}
