import { useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { Band, Chart, HorizontalMark, Span, VerticalMark, axisOver, niceDomain, niceTicks, roleOfLetter } from '../../chart'
import type { Axis, Series, SeriesRole } from '../../chart'
import { ChoiceField } from '../../sentence'
import { shownUnit, toShown, withUnit } from '../../units'
import type { Document } from '@calm-hand/core/document'
import { signalValues } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import type { Envelope, Spread } from '@calm-hand/core/tuning'
import { drawnInTurn } from '../../frame/inTurn'
import { useSimulated } from '../../state/following'
import { useOpen } from '../../state/project'
import { AtCursor } from './AtCursor'
import { CalmMapChart as MapChart } from './CalmMapChart'
import { capital } from './capital'
import { combinations } from '../../compute/loops/combinations'
import type { Answered, Judged, LoopView } from '../../compute/loops/loopView'
import type { Way } from '../../compute/loops/ways'
import { useAnswer } from '../../compute'
import { keptLetter } from './useKept'
import type { KeptAnswer } from './useKept'
import { looks } from './looks'
import { decibels, degrees, frequencyAxis } from './looks/axes'
import { disturbedBy } from './disturbedBy'

const timeOf = ({ window }: LoopView): Axis => ({ domain: [0, window], ticks: niceTicks(0, window, 5), label: 'time, s' })

/** Loop gain and phase on one frequency axis; the step and what it takes on one time axis. */
interface LoopChartsProps {
  readonly document: Document
  readonly loop: string
  readonly view: LoopView
  readonly comparing: boolean
  readonly kept: readonly KeptAnswer[]
  /** The loop run the four ways, while they are compared. */
  readonly ways: readonly Way[]
  readonly spread: Spread | undefined
  /** Asks for the cues of a trial, for a disturbance, or for a step. */
  readonly onAsk: (wanted: string | undefined) => void
}

/** Each is drawn by itself. */
export function LoopCharts({ document, loop, view: given, comparing, kept, ways, spread, onAsk }: LoopChartsProps) {
  const view = useDrawn(loop, given)
  const { now, pinned } = view
  // a law of one gain has a line of designs, not a map
  const hasMap = now !== undefined && isMapped(now)
  // both charts draw the same answers
  const { asked, window } = view
  const documents = useMemo(() => kept.map((one) => one.document), [kept])
  const stayed = useAnswer('earlier', document, kept.length === 0 ? undefined : [loop, asked, window, documents], {
    subject: loop,
    rank: 2,
  }).answer
  // the four ways are those of the linear loop
  const simulated = useSimulated(document, comparing ? undefined : asked.trial)
  const answers = useMemo(() => answersOf({ view, comparing, kept, ways }, stayed ?? []), [view, comparing, kept, ways, stayed])
  const [search, setSearch] = useSearchParams()
  const look = search.get('look') ?? 'margins'
  const Chosen = looks[look]?.Look
  // the lanes of all loops need the room of the charts of one
  const isWide = look === 'lanes'
  const onLook = (key: string) => {
    const kept = new URLSearchParams(search)
    if (key === 'margins') kept.delete('look')
    else kept.set('look', key)
    setSearch(kept, { replace: true })
  }
  if (now === undefined) {
    return (
      <p className="p-6 text-mist">
        No gains meet what is asked, so there is nothing to draw. The sentence above says what is in reach.
      </p>
    )
  }
  return (
    <div
      className={`grid grid-rows-[auto_minmax(0,1fr)] gap-x-4 px-3 pt-1.5 min-h-0 ${given.now === undefined ? 'opacity-50' : ''} ${isWide ? 'grid-cols-[minmax(0,1fr)]' : 'grid-cols-[minmax(0,1fr)_minmax(0,1fr)]'}`}
    >
      <div role="tablist" aria-label="What to look at" className="col-span-full flex gap-1 -ml-1 pb-1 whitespace-nowrap">
        {Object.entries({ margins: { label: 'Margins' }, ...looks }).map(([key, { label }]) => (
          <button
            key={key}
            role="tab"
            aria-selected={key === look}
            className={`px-1.5 h-[22px] rounded text-[12.5px] ${key === look ? 'bg-kelp-tint text-kelp font-semibold' : 'text-mist'}`}
            onClick={() => onLook(key)}
          >
            {label}
          </button>
        ))}
      </div>
      <div className="flex flex-col min-h-0 min-w-0">
        {Chosen !== undefined && (isWide || now.analysis.notLinear === undefined) ? (
          <div className="grow min-h-0">
            <Chosen document={document} loop={loop} view={view} now={now} />
          </div>
        ) : (
          <div className={`grow grid gap-y-1 min-h-0 ${hasMap ? 'grid-rows-[5fr_3fr_4fr]' : 'grid-rows-2'}`}>
            {hasMap && <CalmMapChart document={document} loop={loop} view={view} />}
            {now.analysis.notLinear === undefined ? (
              <>
                <GainChart {...{ now, pinned, spread }} />
                <PhaseChart {...{ now, pinned, spread }} />
              </>
            ) : (
              <p className="p-4 text-mist">{now.analysis.notLinear}</p>
            )}
          </div>
        )}
      </div>
      {!isWide && (
        <div className="grid grid-cols-[minmax(0,1fr)] gap-y-1 min-h-0 grid-rows-[1fr_1fr_auto]">
          <HeldChart {...{ document, loop, view, now, comparing, kept, answers, simulated, spread, onAsk }} />
          <PushChart {...{ document, loop, view, now, comparing, kept, answers, simulated, spread }} />
          <AtCursor now={now} />
        </div>
      )}
    </div>
  )
}

/** What is drawn: under the hand, where no gains meet what is asked, the last that did, so that the hand finds back. */
function useDrawn(loop: string, view: LoopView): LoopView {
  const isHeld = useOpen(({ gesture }) => gesture !== undefined)
  const [last, setLast] = useState({ loop, view })
  if (view.now !== undefined && last.view !== view) setLast({ loop, view })
  return view.now === undefined && isHeld && last.loop === loop ? last.view : view
}

const CalmMapChart = drawnInTurn(MapChart)

/** Gains that a requirement solves for. */
const mappedGains: readonly string[] = ['kp', 'ki', 'kd']

/** A map has two gains that a requirement solves for. */
function isMapped({ design }: Judged): boolean {
  const { gains } = design.law
  return gains.length > 1 && gains.every((gain) => mappedGains.includes(gain))
}

/** An envelope in the unit of display. */
function shownBand({ xs, least, most }: Envelope, shown: (value: number) => number): Envelope {
  return { xs, least: least.map(shown), most: most.map(shown) }
}

interface PairProps {
  readonly now: Judged
  readonly pinned: LoopView['pinned']
  readonly spread: Spread | undefined
}

function curves(
  { now, pinned }: Omit<PairProps, 'spread'>,
  height: (point: { magnitude: number; phase: number }) => number,
): Series[] {
  const one = (name: string, role: SeriesRole, judged: Judged): Series => ({
    name,
    role,
    xs: judged.analysis.curve.map(({ w }) => w),
    ys: judged.analysis.curve.map(height),
  })
  return [
    ...(pinned === undefined ? [] : [one(pinned.letter, roleOfLetter(pinned.letter), pinned.judged)]),
    one('now', 'prediction', now),
  ]
}

const GainChart = drawnInTurn(function GainChart({ now, pinned, spread }: PairProps) {
  const { crossover, gainMargin } = now.analysis
  const series = useMemo(() => curves({ now, pinned }, ({ magnitude }) => decibels(magnitude)), [now, pinned])
  const summary = `Crosses 0 dB at ${crossover?.toPrecision(3) ?? 'no'} rad/s; gain margin ${gainMargin === undefined ? 'none' : `${decibels(gainMargin.factor).toFixed(1)} dB`}.`
  return (
    <Chart
      title="Loop gain"
      unit="dB"
      x={frequencyAxis}
      y={{ domain: [-60, 60], ticks: [-40, -20, 0, 20, 40] }}
      series={series}
      summary={summary}
      showX={false}
      cursor="frequency"
    >
      {spread !== undefined && <Band {...shownBand(spread.magnitude, decibels)} />}
      <HorizontalMark at={0} />
      {crossover !== undefined && <VerticalMark at={crossover} label={`${crossover.toPrecision(3)} rad/s`} />}
      {gainMargin !== undefined && (
        <Span
          x={gainMargin.w}
          from={0}
          to={-decibels(gainMargin.factor)}
          label={`gain margin ${decibels(gainMargin.factor).toFixed(1)} dB`}
        />
      )}
    </Chart>
  )
})

const PhaseChart = drawnInTurn(function PhaseChart({ now, pinned, spread }: PairProps) {
  const { crossover, phaseMargin, gainMargin } = now.analysis
  const series = useMemo(() => curves({ now, pinned }, ({ phase }) => degrees(phase)), [now, pinned])
  const margin = phaseMargin === undefined ? undefined : degrees(phaseMargin)
  return (
    <Chart
      title="Phase"
      unit="deg"
      x={frequencyAxis}
      y={{ domain: [-270, -60], ticks: [-270, -225, -180, -135, -90] }}
      series={series}
      summary={`Phase margin ${margin?.toFixed(1) ?? 'none'} degrees.`}
      legend={false}
      cursor="frequency"
    >
      {spread !== undefined && <Band {...shownBand(spread.phase, degrees)} />}
      <HorizontalMark at={-180} />
      {crossover !== undefined && <VerticalMark at={crossover} />}
      {gainMargin !== undefined && <VerticalMark at={gainMargin.w} dash="2 3" tone="mist" />}
      {crossover !== undefined && margin !== undefined && (
        <Span x={crossover} from={-180} to={-180 + margin} label={`in hand ${margin.toFixed(1)}°`} />
      )}
    </Chart>
  )
})

/** An answer with the way it is drawn. */
interface Answer {
  readonly name: string
  readonly role: SeriesRole
  readonly answer: Answered
}

interface StepProps {
  readonly document: Document
  readonly loop: string
  readonly view: LoopView
  readonly now: Judged
  readonly comparing: boolean
  readonly kept: readonly KeptAnswer[]
  /** Those beside the design itself, or the ways to run it in its place. */
  readonly answers: readonly Answer[]
  /** The run of the trial that is asked for; nothing where it has not run like this, or nothing of it is. */
  readonly simulated: RunRecord | undefined
  readonly spread: Spread | undefined
}

/** What stands beside the designed answer, or the four combinations of feedback and feedforward in its place. */
function answersOf(
  { view, comparing, kept, ways }: Pick<LoopChartsProps, 'view' | 'comparing' | 'kept' | 'ways'>,
  stayed: readonly (Answered | undefined)[],
): readonly Answer[] {
  const { pinned } = view
  if (comparing)
    return combinations.flatMap(({ name, role }, i) => (ways[i] === undefined ? [] : [{ name, role, answer: ways[i].answer }]))
  const before = pinned === undefined ? [] : [{ letter: pinned.letter, name: pinned.letter, answer: pinned.judged.step }]
  const after = kept.flatMap(({ title }, i) => {
    const answer = stayed[i]
    return answer === undefined ? [] : [{ letter: keptLetter(i), name: title, answer }]
  })
  return [...before, ...after].map(({ letter, ...one }) => ({ ...one, role: roleOfLetter(letter) }))
}

/** One column of all answers in the unit of display, the designed one last. */
function answerSeries(
  { now, comparing, answers }: Pick<StepProps, 'now' | 'comparing' | 'answers'>,
  column: 'held' | 'push' | 'error',
  unit: string,
): Series[] {
  const own: Answer =
    column === 'push'
      ? { name: 'command', role: 'command', answer: now.step }
      : { name: 'predicted', role: 'prediction', answer: now.step }
  return [...answers, ...(comparing ? [] : [own])].map(({ name, role, answer }) => ({
    ...{ name, role, xs: answer.t },
    ys: columnOf(answer, column, unit),
  }))
}

/** What the whole machine does in the trial that is asked for, beside what its linear form predicts. */
function simulatedSeries(
  { document, loop, now, simulated }: Pick<StepProps, 'document' | 'loop' | 'now' | 'simulated'>,
  column: 'held' | 'push' | 'error',
  unit: string,
): Series[] {
  const { values: part, nominalHeld } = now.design
  const name = { held: `${part.machine}.${part.holds}`, push: `loops.${loop}.command`, error: `loops.${loop}.error` }[column]
  const values = simulated === undefined ? undefined : signalValues(document, simulated, name)
  if (simulated === undefined || values === undefined) return []
  // charts of a loop count from where it rests
  const from = column === 'held' ? nominalHeld : 0
  return [{ name: 'simulated', role: 'actual', xs: simulated.time, ys: values.map((value) => toShown(value - from, unit)) }]
}

/** One column of an answer in the unit of display: of what is held also what is missing of what was asked. */
function columnOf(answer: Answered, column: 'held' | 'push' | 'error', unit: string): Float64Array {
  const values = column === 'error' ? answer.wanted.map((value, i) => value - answer.held[i]!) : answer[column]
  return values.map((value) => toShown(value, unit))
}

const HeldChart = drawnInTurn(function HeldChart({
  document,
  loop,
  simulated,
  view,
  now,
  comparing,
  kept,
  answers,
  spread,
  onAsk,
}: StepProps & Pick<LoopChartsProps, 'onAsk'>) {
  const isCrowded = comparing || kept.length > 0
  const { unit, label } = view.quantity
  const [search, setSearch] = useSearchParams()
  const isError = search.get('drawn') === 'error'
  const draw = (what: string) => {
    const next = new URLSearchParams(search)
    if (what === 'error') next.set('drawn', what)
    else next.delete('drawn')
    setSearch(next, { replace: true })
  }
  const series = useMemo(() => {
    const run = (column: 'held' | 'error') => simulatedSeries({ document, loop, now, simulated }, column, unit)
    if (isError) return [...answerSeries({ now, comparing, answers }, 'error', unit), ...run('error')]
    const { xs, ys } = view.reference
    return [
      { name: 'reference', role: 'reference', xs, ys: ys.map((value) => toShown(value, unit)) } satisfies Series,
      ...answerSeries({ now, comparing, answers }, 'held', unit),
      ...run('held'),
    ]
  }, [document, loop, simulated, view, now, comparing, answers, unit, isError])
  const { trial, stepSize, disturbance } = view.asked
  const size = toShown(stepSize, unit)
  const gone = toShown(now.recovery?.worst ?? 0, unit)
  const aimed =
    disturbance !== undefined
      ? [-0.2 * gone, 1.2 * gone].map((value) => (isError ? -value : value))
      : trial === undefined
        ? [0, 1.2 * size]
        : Array.from(series[0]!.ys)
  const reach = Math.max(...aimed) - Math.min(...aimed)
  // what runs off is not followed: the others stay legible
  const around = isCrowded ? [Math.min(...aimed) - 0.6 * reach, Math.max(...aimed) + 0.6 * reach] : aimed
  const domain = niceDomain(isCrowded ? [] : series.map(({ ys }) => ys), around)
  const y: Axis = axisOver(domain, 5)
  return (
    <Chart
      title={isError ? `${capital(label)} error` : capital(label)}
      unit={shownUnit(unit)}
      x={timeOf(view)}
      y={y}
      series={series}
      heading={
        <h3 className="whitespace-nowrap">
          <ChoiceField
            label="what is drawn"
            value={isError ? 'error' : 'held'}
            options={{ held: capital(label), error: `${capital(label)} error` }}
            onChoose={draw}
          />{' '}
          <span className="font-normal text-mist">{shownUnit(unit)}</span>{' '}
          <span className="font-normal text-[12px]">
            <ChoiceField
              label="what is asked"
              value={disturbance === undefined ? (trial ?? '') : `${disturbedBy}${disturbance.name}`}
              options={{
                '': `asked to step by ${withUnit(stepSize, unit, 3)}`,
                ...Object.fromEntries(
                  view.disturbances.map(({ name, label: by }) => [`${disturbedBy}${name}`, `${disturbedBy}${by}`]),
                ),
                ...view.trials,
              }}
              onChoose={(chosen) => onAsk(chosen === '' ? undefined : chosen)}
            />
          </span>
        </h3>
      }
      summary={`Predicted ${trial === undefined ? `step of ${withUnit(stepSize, unit)}` : `answer to ${view.trials[trial]!}`}: overshoot ${(100 * now.figures.overshoot).toFixed(1)} %, settling ${now.figures.settling?.toFixed(2) ?? 'never'} s.`}
      showX={false}
      legend={!isCrowded}
      cursor="time"
    >
      {spread !== undefined && !isError && <Band {...shownBand(spread.held, (value) => toShown(value, unit))} />}
    </Chart>
  )
})

const PushChart = drawnInTurn(function PushChart({ document, loop, simulated, ...rest }: StepProps) {
  const { view, now, comparing, kept, answers, spread } = rest
  const { unit, label } = view.axis
  const series = useMemo(
    () => [
      ...answerSeries({ now, comparing, answers }, 'push', unit),
      ...simulatedSeries({ document, loop, now, simulated }, 'push', unit),
    ],
    [document, loop, simulated, now, comparing, answers, unit],
  )
  // beside answers that stay, one that runs off must not flatten them
  const seen = kept.length > 0 && !now.analysis.stable ? series.slice(0, -1) : series
  const domain = niceDomain(
    seen.map(({ ys }) => ys),
    [0],
  )
  return (
    <Chart
      title={`${capital(label)} asked`}
      unit={shownUnit(unit)}
      x={timeOf(view)}
      y={axisOver(domain, 5)}
      series={series}
      summary={`Peak command ${withUnit(now.figures.peakCommand, unit)}.`}
      legend={!comparing && kept.length === 0}
      cursor="time"
    >
      {spread !== undefined && <Band {...shownBand(spread.push, (value) => toShown(value, unit))} />}
      {now.design.nominalPush !== 0 && <HorizontalMark at={toShown(now.design.nominalPush, unit)} label="at rest" dash="2 3" />}
    </Chart>
  )
})
