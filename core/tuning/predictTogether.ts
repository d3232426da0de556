import { addProduct } from '../algebra'
import { commandedLoop } from '../control'
import type { LinearEstimator } from '../control'
import { done, refusedFor, rememberedOf } from '../document'
import type { Outcome, Part } from '../document'
import { between, minimalRealization, sampledWithHold } from '../linear'
import type { StateSpace } from '../linear'
import { findHeld } from '../machine'
import type { LoopDesign } from './design'
import { loopSoftware, noTerms } from './predict'
import type { Prediction, PredictionRequest } from './predict'
import { estimatesOf, eyesRead, movedBy, rateOfEye, readerOf, toldBy, withRates } from './sight'
import type { EstimateSource, EstimateSources } from './sight'

/** A loop with what a trial asks of it. */
export interface PlayedLoop extends Pick<PredictionRequest, 'reference' | 'switched'> {
  readonly name: string
  readonly design: LoopDesign
}

/** A push of the machine that something moves beside its loops: what it adds over time, held over each tick. */
export interface MovedPush {
  readonly push: string
  readonly by: (t: number) => number
}

/** What moves the machine beside its loops, and what else of it is looked at, about where it rests. */
export interface Beside {
  readonly moved: readonly MovedPush[]
  /** Hz: how often what is moved takes a new value. */
  readonly rate: number
  readonly watched: readonly string[]
}

export interface PredictedTogether {
  readonly loops: ReadonlyMap<string, Prediction>
  readonly watched: Readonly<Record<string, Float64Array>>
  /** s, of what is watched. */
  readonly t: Float64Array
}

/** Samples a second of all loops together: more is another common period than anybody means. */
const mostTicks = 1e5

/**
 * The linear machine with all its loops at their own rates over time: every law itself, filters and delays, feedforwards about
 * rest, loops that command loops, what is switched on the way; exact between samples. `loops` come outermost first. Everything
 * is about the operating point, as of `predict`. Loops that read estimates read those of `eyes`, without noise. Refused where
 * the rates have no common period.
 */
export function predictTogether(
  machine: Part,
  system: StateSpace,
  loops: readonly PlayedLoop[],
  until: number,
  eyes: readonly LinearEstimator[],
  beside: Beside | undefined,
): Outcome<PredictedTogether> {
  const read = eyesRead(
    machine,
    loops.map(({ design }) => readerOf(design)),
    eyes,
  )
  const rates = [
    ...(beside === undefined ? [] : [beside.rate]),
    ...loops.map(({ design }) => design.values.rate),
    ...read.map(rateOfEye),
  ]
  const ticksPerSecond = system.dt === null ? commonRate(rates) : 1 / system.dt
  if (ticksPerSecond === undefined)
    return refusedFor('loops', 'The rates of the loops have no common period.', 'Choose rates that divide one another.')
  const rateOf = (held: string) => findHeld(machine, held)?.rate
  const shown = loops.flatMap(({ design: { values, model } }) => [
    values.holds,
    rateOf(values.holds) ?? values.holds,
    ...model.law.signals,
  ])
  const watched = (beside?.watched ?? []).filter((name) => system.outputs.includes(name))
  const outputs = [...new Set([...shown, ...watched, ...read.flatMap(({ reads }) => reads)])]
  const pushed = loops.map(({ design }) => design.values.pushes).filter((push) => commandedLoop(push) === undefined)
  const inputs = [...new Set([...pushed, ...(beside?.moved ?? []).map(({ push }) => push)])]
  const moved = (beside?.moved ?? []).map(({ push, by }) => ({ input: inputs.indexOf(push), by }))
  const tick = tickOf(system, inputs, outputs, ticksPerSecond)
  const looking = read.map((eye) => eyeOf(eye, ticksPerSecond, outputs, system.inputs, inputs))
  const players = loops.map((one) =>
    playerOf(one, ticksPerSecond, until, outputs, inputs, rateOf, estimatesOf(machine, readerOf(one.design), read)),
  )
  const ticks = Math.floor(until * ticksPerSecond + 1e-9) + 1
  const [a, b, c, d] = [packedRows(tick.a), packedRows(tick.b), packedRows(tick.c), packedRows(tick.d)]
  let [x, next] = [new Float64Array(tick.a.length), new Float64Array(tick.a.length)]
  const [seen, push] = [new Float64Array(outputs.length), new Float64Array(inputs.length)]
  const kept = Object.fromEntries(watched.map((name) => [name, new Float64Array(ticks)]))
  const times_s = Float64Array.from({ length: watched.length > 0 ? ticks : 0 }, (_, k) => k / ticksPerSecond)
  for (let k = 0; k < ticks; k++) {
    // read is what there is before the push of this tick
    times(c, x, seen)
    plusTimes(d, push, seen)
    for (const eye of looking) if (k % eye.every === 0) eye.look(seen, push)
    push.fill(0)
    const commands = new Map<string, number>()
    for (const player of players) {
      if (k % player.every === 0) player.step(k / ticksPerSecond, seen, commands.get(player.name), looking)
      if (player.target === undefined) push[player.input]! += player.applied
      else commands.set(player.target, player.applied)
    }
    for (const { input, by } of moved) push[input]! += by(k / ticksPerSecond)
    if (watched.length > 0) {
      times(c, x, seen)
      plusTimes(d, push, seen)
      for (const name of watched) kept[name]![k] = seen[outputs.indexOf(name)]!
    }
    times(a, x, next)
    plusTimes(b, push, next)
    ;[x, next] = [next, x]
  }
  return done({ loops: new Map(players.map(({ name, columns }) => [name, columns])), watched: kept, t: times_s })
}

/** By linear form, which nobody changes in place: another gain moves the same machine. */
const sampled = new WeakMap<StateSpace, Map<string, StateSpace>>()

/** What of a machine is moved and shown, from tick to tick. */
function tickOf(system: StateSpace, inputs: readonly string[], outputs: readonly string[], ticksPerSecond: number): StateSpace {
  return rememberedOf(sampled, system, JSON.stringify([inputs, outputs, ticksPerSecond]), () => {
    const small = minimalRealization(between(withRates(system, outputs), inputs, outputs))
    return small.dt === null ? sampledWithHold(small, 1 / ticksPerSecond) : small
  })
}

/** A matrix to be multiplied at every tick, row by row; nothing of one that is all 0. */
function packedRows(rows: readonly (readonly number[])[]): Float64Array | undefined {
  const packed = Float64Array.from(rows.flat())
  return packed.every((value) => value === 0) ? undefined : packed
}

/** out = m x */
function times(m: Float64Array | undefined, x: Float64Array, out: Float64Array): void {
  out.fill(0)
  plusTimes(m, x, out)
}

/** out += m x */
function plusTimes(m: Float64Array | undefined, x: Float64Array, out: Float64Array): void {
  if (m !== undefined) addProduct(m, x, out)
}

/** The least number of ticks a second that all rates divide, where they are whole numbers or divide the fastest. */
function commonRate(rates: readonly number[]): number | undefined {
  const fastest = Math.max(...rates)
  for (let factor = 1; factor * fastest <= mostTicks; factor++)
    if (rates.every((rate) => Math.abs((factor * fastest) / rate - Math.round((factor * fastest) / rate)) < 1e-9))
      return factor * fastest
  return undefined
}

interface Player {
  readonly name: string
  readonly every: number
  readonly target: string | undefined
  readonly input: number
  applied: number
  readonly columns: Prediction
  /** One sample: `command` is the reference about rest where another loop gives it. */
  readonly step: (t: number, seen: Float64Array, command: number | undefined, eyes: readonly Eye[]) => void
}

/** An estimator on its way: what it tells since its last sample. */
interface Eye {
  readonly every: number
  told: readonly number[]
  readonly look: (seen: Float64Array, push: Float64Array) => void
}

function eyeOf(
  eye: LinearEstimator,
  ticksPerSecond: number,
  outputs: readonly string[],
  all: readonly string[],
  inputs: readonly string[],
): Eye {
  const reads = eye.reads.map((signal) => outputs.indexOf(signal))
  const pushes = eye.knowsPushes ? all.map((input) => inputs.indexOf(input)) : []
  let x: readonly number[] = eye.system.a.map(() => 0)
  let before: readonly number[] = reads.map(() => 0)
  const own: Eye = {
    every: Math.round(ticksPerSecond / rateOfEye(eye)),
    told: eye.estimated.map(() => 0),
    look: (seen, push) => {
      const now = reads.map((output) => seen[output]!)
      const asked = pushes.map((input) => (input < 0 ? 0 : push[input]!))
      x = movedBy(eye, x, [...before, ...asked])
      before = now
      own.told = toldBy(eye, x, now)
    },
  }
  return own
}

/** What an estimator tells now; nothing of what is read as it truly is. */
function told(eyes: readonly Eye[], one: EstimateSource | undefined): number | undefined {
  return one === undefined ? undefined : eyes[one.eye]!.told[one.row]!
}

function playerOf(
  { name, design, reference, switched }: PlayedLoop,
  ticksPerSecond: number,
  until: number,
  outputs: readonly string[],
  inputs: readonly string[],
  rateOf: (held: string) => string | undefined,
  estimates: EstimateSources,
): Player {
  const { values, model, gains, forward, nominalPush } = design
  const dt = 1 / values.rate
  const count = Math.floor(until / dt + 1e-9) + 1
  const filled = () => new Float64Array(count)
  const columns = { t: filled(), held: filled(), rate: filled(), push: filled() }
  const carriedThen = filled()
  const terms: Record<string, Float64Array> = { forward: carriedThen }
  // a law has the same terms at every sample
  const written: { readonly name: string; readonly values: Float64Array }[] = []
  const [held, rate] = [outputs.indexOf(values.holds), outputs.indexOf(rateOf(values.holds) ?? '')]
  const signals = model.law.signals.map((signal) => outputs.indexOf(signal))
  const imbalance = forward.constant - nominalPush
  const { closed } = values
  const software = loopSoftware(model, { gains, imbalance, forward: forward.linear, closed, switched })
  let k = 0
  const player: Player = {
    name,
    every: Math.round(ticksPerSecond / values.rate),
    target: commandedLoop(values.pushes),
    input: inputs.indexOf(values.pushes),
    applied: imbalance,
    columns: { ...columns, terms },
    step: (t, seen, command, eyes) => {
      const asked = command === undefined ? reference(t) : ([command, 0, 0] as const)
      const read = {
        held: told(eyes, estimates.held) ?? seen[held]!,
        rate: rate < 0 ? 0 : (told(eyes, estimates.rate) ?? seen[rate]!),
        signals: signals.map((output, i) => told(eyes, estimates.signals[i]) ?? seen[output]!),
      }
      const { carried, given, sent } = software(t, asked, read)
      player.applied = sent
      if (k >= count) return
      carriedThen[k] = carried
      if (written.length === 0) for (const name of Object.keys(given)) written.push({ name, values: (terms[name] ??= filled()) })
      if (given !== noTerms) for (const { name, values } of written) values[k] = given[name]!
      columns.t[k] = t
      columns.held[k] = seen[held]!
      columns.rate[k] = rate < 0 ? 0 : seen[rate]!
      columns.push[k] = player.applied
      k++
    },
  }
  return player
}
