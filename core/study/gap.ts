import { wrapped } from '../algebra'
import { pushOf } from '../control'
import { done, partsIn, refusedFor } from '../document'
import type { Document, Outcome } from '../document'
import { findHeld, heldQuantities } from '../machine'
import type { FindMesh } from '../machine'
import {
  asItCame,
  compile,
  findColumn,
  layersOn,
  predictTrial,
  predictWatched,
  start,
  touchCue,
  trialDuration,
} from '../simulation'
import type { CueCame, Ending, Record as RunRecord } from '../simulation'
import { causesOf } from './causes'
import type { Cause, Staged } from './causes'
import { allCoalitions, coalitionsOf, interactions, sampledOrders, sampledShares, shapleyShares, sizeOf } from './shapley'
import type { Coalition, Order } from './shapley'

/** A signal that simulation and prediction both have. */
export interface GapSignal {
  /** The column of a run. */
  readonly name: string
  readonly label: string
  readonly unit: string
  readonly goesRound: boolean
  /** s by which the prediction tells it later: when a command reaches the machine, not when it is worked out. */
  readonly late: number
}

/** What an account of the gap of a trial asks for: a run of every coalition of causes. */
export interface GapPlan {
  readonly causes: readonly Omit<Cause, 'without'>[]
  readonly signals: readonly GapSignal[]
  readonly coalitions: readonly Coalition[]
  /** The same in pieces, each of which one program runs; the largest coalitions first. */
  readonly pieces: readonly (readonly Coalition[])[]
  /** Orders of causes, where their shares are sampled. */
  readonly orders?: readonly Order[]
  /** s, at which the differences are looked at. */
  readonly time: Float64Array
}

/** How far the run of a coalition is from the prediction: of each signal at the times of the plan, as far as it came. */
export interface GapRun {
  readonly coalition: Coalition
  readonly differences: readonly Float64Array[]
  readonly ending: Ending
}

/** The share of a cause in the gap, in the unit of the signal, and of the whole. */
export interface GapShare {
  readonly cause: string
  readonly share: number
  readonly portion: number
  /** Of a sampled share, in the unit of the signal: with 95 % it is no farther off. */
  readonly bound?: number
  /** rms of the difference without it alone, and with it alone. */
  readonly without?: number
  readonly alone?: number
}

/** Two causes that do together what neither does by itself: positive more, negative less. */
export interface GapPair {
  readonly causes: readonly [string, string]
  readonly interaction: number
  readonly portion: number
}

export interface GapAccount {
  readonly signal: GapSignal
  readonly from: number
  readonly to: number
  /** rms of simulation less prediction. */
  readonly whole: number
  /** What is left where no cause acts: software beyond its linear form. With the shares it adds up to the whole. */
  readonly left: number
  readonly shares: readonly GapShare[]
  /** Strongest first; none where shares are sampled. */
  readonly pairs: readonly GapPair[]
  readonly runs: number
}

/** Up to so many causes every coalition is run; of more a sample of orders. */
const mostExact = 7
/** Pairs of orders: each passes through up to twice as many coalitions as there are causes. */
const sampledPairs = 10
const samplingSeed = 1953
/** Times at which differences are looked at. */
const mostTimes = 1500
/** Share of the largest difference of any coalition, at any time, below which a difference is rounding. */
const rounding = 1e-9
/** Share of the whole from which a pair is strong. */
const strongPair = 0.05

/** What the account of a trial asks for; `came` are the times of its cues in its run. */
export function gapPlan(given: Document, trial: string, came: readonly CueCame[]): Outcome<GapPlan> {
  const ground = groundOf(given, trial, came)
  if (ground.kind === 'refused') return ground
  const { causes, signals, time } = ground.value
  const count = causes.length
  const orders = count <= mostExact ? undefined : sampledOrders(count, sampledPairs, samplingSeed)
  const coalitions = largestFirst(orders === undefined ? allCoalitions(count) : coalitionsOf(orders))
  return done({
    causes: causes.map(({ without: _without, ...told }) => told),
    pieces: alike(causes, coalitions).map(({ variants }) => variants.map(({ coalition }) => coalition)),
    ...{ signals, coalitions, time },
    ...(orders === undefined ? {} : { orders }),
  })
}

/** Runs coalitions of causes. Refused where one cannot be run at all. */
export function gapRuns(
  given: Document,
  trial: string,
  came: readonly CueCame[],
  coalitions: readonly Coalition[],
  findMesh?: FindMesh,
): Outcome<readonly GapRun[]> {
  const ground = groundOf(given, trial, came)
  if (ground.kind === 'refused') return ground
  const { document, causes, signals, time } = ground.value
  const predicted = predictedSignals(given, trial, came, signals)
  const only = new Set(signals.map(({ name }) => name))
  const seed = document.trials[trial]!.seed
  const runs: GapRun[] = []
  const full = fully(document, trial)
  for (const { absent, variants } of alike(causes, coalitions)) {
    const { document: changed, ...choices } = absent.reduce((now, { without }) => without.staged?.(now) ?? now, full)
    const program = compile(changed, trial, { ...choices, only, ...(findMesh === undefined ? {} : { findMesh }) })
    if (program.kind === 'refused') return cannotRun(trial, absent, program.problems[0]?.what)
    const simulation = start(program.value)
    for (const { coalition, values } of variants) {
      const record = simulation.run({ trial, layers: [], seed, values })
      const differences = signals.map((signal, i) => apart(record, signal, predicted[i]!, time))
      runs.push({ coalition, ending: record.ending, differences })
    }
  }
  return done(runs)
}

/** What plan and runs of an account have in common. */
interface Ground extends Pick<GapPlan, 'signals' | 'time'> {
  readonly document: Document
  readonly causes: readonly Cause[]
}

function groundOf(given: Document, trial: string, came: readonly CueCame[]): Outcome<Ground> {
  const document = clocked(given, trial, came)
  const causes = causesOf(document, trial)
  if (causes.kind === 'refused') return causes
  const signals = signalsWithPrediction(document, trial)
  if (signals.length === 0)
    return refusedFor(
      `trials.${trial}`,
      'Nothing of this trial has a prediction, so there is no gap to account for.',
      'Give the machine a loop, or an operating point about which it has a linear form.',
    )
  const end = trialDuration(document.trials[trial] as never)
  const time = Float64Array.from({ length: mostTimes }, (_, k) => (k * end) / (mostTimes - 1))
  return done({ document, causes: causes.value, signals, time })
}

/** Coalitions that differ by numbers in memory alone: one program runs all of them. */
interface Alike {
  /** What is not in any of them, beside such numbers. */
  readonly absent: readonly Cause[]
  readonly variants: { readonly coalition: Coalition; readonly values: Readonly<Record<string, number>> }[]
}

function alike(causes: readonly Cause[], coalitions: readonly Coalition[]): readonly Alike[] {
  const groups = new Map<Coalition, Alike>()
  const inMemory = causes.reduce((mask, { without }, i) => (without.values === undefined ? mask : mask | (1 << i)), 0)
  for (const coalition of coalitions) {
    const absent = causes.filter((_, i) => (coalition & (1 << i)) === 0)
    const compiled = coalition & ~inMemory
    const group = groups.get(compiled) ?? { absent: absent.filter(({ without }) => without.staged !== undefined), variants: [] }
    const values = Object.assign({}, ...absent.map(({ without }) => without.values ?? {})) as Readonly<Record<string, number>>
    groups.set(compiled, { ...group, variants: [...group.variants, { coalition, values }] })
  }
  return [...groups.values()]
}

/** The account of one signal over a window, from the runs of all coalitions of a plan. */
export function gapAccount(plan: GapPlan, runs: readonly GapRun[], name: string, from: number, to: number): Outcome<GapAccount> {
  const at = plan.signals.findIndex((one) => one.name === name)
  const signal = plan.signals[at]
  if (signal === undefined) {
    const known = plan.signals.map((one) => one.name).join(', ')
    return refusedFor('signal', `There is no prediction of ${name}.`, `Choose one of ${known}.`)
  }
  const inside = [...plan.time.keys()].filter((k) => plan.time[k]! >= from && plan.time[k]! <= to)
  const end = plan.time.at(-1)!
  if (inside.length < 2)
    return refusedFor(
      'window',
      `From ${from} s to ${to} s there is nothing of the run.`,
      `Take a window within 0 s and ${end} s.`,
    )
  const worths = new Map(runs.map((run) => [run.coalition, rms(run.differences[at]!, inside)]))
  const short = runs.find(({ differences }) => !(differences[at]!.length > inside.at(-1)!))
  if (short !== undefined) return endedEarly(plan, short, at)
  const count = plan.causes.length
  const worth = (coalition: Coalition) => worths.get(coalition)!
  const all = 2 ** count - 1
  const [whole, left] = [worth(all), worth(0)]
  const largest = runs.reduce((most, run) => Math.max(most, peakOf(run.differences[at]!)), 0)
  const isRounding = whole <= rounding * largest
  const found = plan.orders === undefined ? shapleyShares(count, worth) : sampledShares(count, plan.orders, worth)
  // before anything differs there is rounding, which has no causes
  const portion = (value: number) => (isRounding ? 0 : value / whole)
  const without = (i: number) => worths.get(all & ~(1 << i))
  const alone = (i: number) => worths.get(1 << i)
  const shares = plan.causes.map(({ name: cause }, i): GapShare => {
    const share = found.shares[i]!
    const [off, only] = [without(i), alone(i)]
    return {
      ...{ cause, share, portion: portion(share) },
      ...(found.bounds === undefined ? {} : { bound: found.bounds[i]! }),
      ...(off === undefined ? {} : { without: off }),
      ...(only === undefined ? {} : { alone: only }),
    }
  })
  return done({
    ...{ signal, from, to, whole: isRounding ? 0 : whole, left: isRounding ? 0 : left, runs: runs.length },
    shares: [...shares].sort((a, b) => b.share - a.share),
    pairs: plan.orders === undefined ? strongPairs(plan, interactions(count, worth), isRounding ? 0 : whole) : [],
  })
}

function strongPairs({ causes }: GapPlan, indices: readonly (readonly number[])[], whole: number): readonly GapPair[] {
  const pairs = causes.flatMap(({ name: one }, i) =>
    causes.slice(i + 1).map(({ name: other }, k): GapPair => {
      const interaction = indices[i]![i + 1 + k]!
      return { causes: [one, other], interaction, portion: whole === 0 ? 0 : interaction / whole }
    }),
  )
  const size = ({ portion }: GapPair) => Math.abs(portion)
  return pairs.filter((pair) => size(pair) >= strongPair).sort((a, b) => size(b) - size(a))
}

/** Cues by the clock as they came, unless a hand's touches are among them, which no clock knows. */
function clocked(document: Document, trial: string, came: readonly CueCame[]): Document {
  const isTouched = Object.values(partsIn(document.trials[trial]!.cues)).some(({ kind }) => kind === touchCue.name)
  return isTouched ? document : asItCame(document, trial, came)
}

function fully(document: Document, trial: string): Staged {
  const layers = layersOn(document.trials[trial] as never)
  return { document, layers, asPredicted: { machine: false, layers: new Set() } }
}

/** What loops of the machine hold and command, and what the trial watches, as far as the linear machine has it. */
function signalsWithPrediction(document: Document, trial: string): readonly GapSignal[] {
  const { machine: name, watch } = document.trials[trial]!
  const machine = document.machines[name]!
  const loops = Object.entries(document.loops).filter(([, loop]) => loop.machine === name)
  const watched = Object.values(partsIn(watch)).map(({ signal }) => String(signal))
  const asked = Object.values(partsIn(document.trials[trial]!.cues)).flatMap(({ loop }) =>
    loop === undefined ? [] : [String(loop)],
  )
  // what the trial asks for comes first
  const inOrder = [...loops].sort(([a], [b]) => Number(asked.includes(b)) - Number(asked.includes(a)))
  const held = inOrder.map(([, { holds }]) => holds)
  const also = watched.flatMap((signal) => (signal.startsWith(`${name}.`) ? [signal.slice(name.length + 1)] : []))
  const isPlain = loops.length === 0
  const quantities = [...new Set([...held, ...also, ...(isPlain ? heldQuantities(machine).map((one) => one.name) : [])])]
  const known = predictWatched(document, trial, quantities)?.values ?? {}
  return [
    ...quantities.flatMap((quantity): GapSignal[] => {
      const found = findHeld(machine, quantity)
      if (found === undefined || known[quantity] === undefined) return []
      return [
        { name: `${name}.${quantity}`, label: found.label, unit: found.unit, goesRound: found.angle === 'goesRound', late: 0 },
      ]
    }),
    ...inOrder.flatMap(([loop, part]): GapSignal[] => {
      const push = pushOf(document, part)
      return push === undefined
        ? []
        : [
            {
              name: `loops.${loop}.command`,
              label: `command of ${loop}`,
              unit: push.unit,
              goesRound: false,
              late: (part.delay as number) / (part.rate as number),
            },
          ]
    }),
  ]
}

interface Predicted {
  readonly t: Float64Array
  readonly values: Float64Array
}

/** Predictions of signals; nothing of one whose loop has no design. */
function predictedSignals(
  given: Document,
  trial: string,
  came: readonly CueCame[],
  signals: readonly GapSignal[],
): readonly (Predicted | undefined)[] {
  const document = asItCame(given, trial, came)
  const machine = document.trials[trial]!.machine
  const own = signals.flatMap(({ name }) => (name.startsWith(`${machine}.`) ? [name.slice(machine.length + 1)] : []))
  const watched = predictWatched(document, trial, own)
  return signals.map(({ name }) => {
    const loop = commandOf.exec(name)?.[1]
    if (loop !== undefined) {
      const found = predictTrial(document, trial, loop)
      return found === undefined ? undefined : { t: found.t, values: found.push }
    }
    const values = watched?.values[name.slice(machine.length + 1)]
    return values === undefined ? undefined : { t: watched!.t, values }
  })
}

const commandOf = /^loops\.([^.]+)\.command$/

/** A run less the prediction, at some times: along straight lines between samples, and of commands as they are held. */
function apart(
  record: RunRecord,
  { name, goesRound, late }: GapSignal,
  predicted: Predicted | undefined,
  at: Float64Array,
): Float64Array {
  const values = findColumn(record, name)
  if (values === undefined || predicted === undefined) return new Float64Array(0)
  const { time } = record
  const end = (time.at(-1) ?? -1) + 1e-9
  const count = at[at.length - 1]! <= end ? at.length : at.findIndex((t) => t > end)
  const valueAt = commandOf.test(name) ? heldAt : between
  const [stepOf, stepThen] = [stepBetween(time), stepBetween(predicted.t)]
  const differences = new Float64Array(count)
  for (let k = 0; k < count; k++) {
    const difference = valueAt(stepOf, values, at[k]! - late) - valueAt(stepThen, predicted.values, at[k]!)
    differences[k] = goesRound ? (wrapped(difference) as number) : difference
  }
  return differences
}

function stepBetween(time: Float64Array): number {
  return time.length > 1 ? time[1]! - time[0]! : 1
}

/** Samples every `step` s from 0 on, as the last of them before a time. */
function heldAt(step: number, values: Float64Array, t: number): number {
  return values[Math.min(values.length - 1, Math.max(0, Math.floor(t / step + 1e-6)))]!
}

/** Samples every `step` s from 0 on, along the straight line between two. */
function between(step: number, values: Float64Array, t: number): number {
  const place = Math.min(values.length - 1, Math.max(0, t / step))
  const before = Math.floor(place)
  const [one, next] = [values[before]!, values[Math.min(values.length - 1, before + 1)]!]
  return one + (place - before) * (next - one)
}

function rms(values: Float64Array, at: readonly number[]): number {
  return Math.sqrt(at.reduce((sum, k) => sum + values[k]! ** 2, 0) / at.length)
}

function peakOf(values: Float64Array): number {
  return values.reduce((most, value) => Math.max(most, Math.abs(value)), 0)
}

function largestFirst(coalitions: readonly Coalition[]): readonly Coalition[] {
  return [...coalitions].sort((a, b) => sizeOf(b) - sizeOf(a) || a - b)
}

function withoutWords(causes: readonly Pick<Cause, 'label'>[]): string {
  return causes.length === 0 ? 'as it is' : `without ${causes.map(({ label }) => label).join(', ')}`
}

function cannotRun(trial: string, absent: readonly Cause[], what = ''): Outcome<never> {
  return refusedFor(
    `trials.${trial}`,
    `It cannot be run ${withoutWords(absent)}. ${what}`,
    'Switch one of these off in the trial, so that it is no part of the account.',
  )
}

function endedEarly({ causes, time }: GapPlan, { coalition, ending, differences }: GapRun, at: number): Outcome<never> {
  const absent = causes.filter((_, i) => (coalition & (1 << i)) === 0)
  const until = time[Math.max(0, differences[at]!.length - 1)]!
  const how = ending.kind === 'diverged' ? `runs away: ${ending.state} leaves all bounds` : 'ends'
  return refusedFor(
    'window',
    `Its run ${withoutWords(absent)} ${how} at ${Number(until.toPrecision(4))} s.`,
    'Let the window end before that, or leave one of these off in the trial.',
  )
}
