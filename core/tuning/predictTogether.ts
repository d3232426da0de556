import { commandedLoop } from '../control'
import { done, refusedFor } from '../document'
import type { Outcome, Part } from '../document'
import { between, minimalRealization, sampledWithHold } from '../linear'
import type { StateSpace } from '../linear'
import { findHeld } from '../machine'
import type { LoopDesign } from './design'
import { loopSoftware } from './predict'
import type { Prediction, PredictionRequest } from './predict'

/** A loop with what a trial asks of it. */
export interface PlayedLoop extends Pick<PredictionRequest, 'reference' | 'switched'> {
  readonly name: string
  readonly design: LoopDesign
}

/** Samples a second of all loops together: more is another common period than anybody means. */
const mostTicks = 1e5

/**
 * The linear machine with all its loops at their own rates over time: every law itself, filters and delays, feedforwards about
 * rest, loops that command loops, what is switched on the way; exact between samples. `loops` come outermost first. Everything
 * is about the operating point, as of `predict`. Refused where the rates have no common period.
 */
export function predictTogether(
  machine: Part,
  system: StateSpace,
  loops: readonly PlayedLoop[],
  until: number,
): Outcome<ReadonlyMap<string, Prediction>> {
  const ticksPerSecond = system.dt === null ? commonRate(loops.map(({ design }) => design.values.rate)) : 1 / system.dt
  if (ticksPerSecond === undefined)
    return refusedFor('loops', 'The rates of the loops have no common period.', 'Choose rates that divide one another.')
  const rateOf = (held: string) => findHeld(machine, held)?.rate
  const shown = loops.flatMap(({ design: { values, model } }) => [
    values.holds,
    rateOf(values.holds) ?? values.holds,
    ...model.law.signals,
  ])
  const outputs = [...new Set(shown)]
  const inputs = [...new Set(loops.map(({ design }) => design.values.pushes).filter((push) => commandedLoop(push) === undefined))]
  const small = minimalRealization(between(system, inputs, outputs))
  const tick = small.dt === null ? sampledWithHold(small, 1 / ticksPerSecond) : small
  const players = loops.map((one) => playerOf(one, ticksPerSecond, until, outputs, inputs, rateOf))
  const ticks = Math.floor(until * ticksPerSecond + 1e-9) + 1
  const [a, b, c] = [tick.a, tick.b, tick.c].map((matrix) => Float64Array.from(matrix.flat())) as [Float64Array, Float64Array, Float64Array] // prettier-ignore
  let [x, next] = [new Float64Array(tick.a.length), new Float64Array(tick.a.length)]
  const [seen, push] = [new Float64Array(outputs.length), new Float64Array(inputs.length)]
  for (let k = 0; k < ticks; k++) {
    times(c, x, seen)
    push.fill(0)
    const commands = new Map<string, number>()
    for (const player of players) {
      if (k % player.every === 0) player.step(k / ticksPerSecond, seen, commands.get(player.name))
      if (player.target === undefined) push[player.input]! += player.applied
      else commands.set(player.target, player.applied)
    }
    times(a, x, next)
    plusTimes(b, push, next)
    ;[x, next] = [next, x]
  }
  return done(new Map(players.map(({ name, columns }) => [name, columns])))
}

/** out = m x, row by row. */
function times(m: Float64Array, x: Float64Array, out: Float64Array): void {
  out.fill(0)
  plusTimes(m, x, out)
}

function plusTimes(m: Float64Array, x: Float64Array, out: Float64Array): void {
  const n = x.length
  for (let i = 0; i < out.length; i++) {
    let total = out[i]!
    for (let j = 0; j < n; j++) total += m[i * n + j]! * x[j]!
    out[i] = total
  }
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
  readonly step: (t: number, seen: Float64Array, command: number | undefined) => void
}

function playerOf(
  { name, design, reference, switched }: PlayedLoop,
  ticksPerSecond: number,
  until: number,
  outputs: readonly string[],
  inputs: readonly string[],
  rateOf: (held: string) => string | undefined,
): Player {
  const { values, model, gains, forward, nominalPush } = design
  const dt = 1 / values.rate
  const count = Math.floor(until / dt + 1e-9) + 1
  const filled = () => new Float64Array(count)
  const columns = { t: filled(), held: filled(), rate: filled(), push: filled() }
  const terms: Record<string, Float64Array> = {}
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
    step: (t, seen, command) => {
      const asked = command === undefined ? reference(t) : ([command, 0, 0] as const)
      const read = { held: seen[held]!, rate: rate < 0 ? 0 : seen[rate]!, signals: signals.map((i) => seen[i]!) }
      const { parts, sent } = software(t, asked, read)
      player.applied = sent
      if (k >= count) return
      for (const [term, value] of Object.entries(parts)) (terms[term] ??= filled())[k] = value
      columns.t[k] = t
      columns.held[k] = read.held
      columns.rate[k] = read.rate
      columns.push[k] = player.applied
      k++
    },
  }
  return player
}
