import { switchedStep } from '../control'
import { sampledStep } from '../linear'
import type { StateSpace } from '../linear'
import type { Gains, LoopModel } from './loopModel'

export interface PredictionRequest {
  readonly gains: Gains
  /** Reference of the held quantity at a time, relative to the operating point, with its rate and acceleration. */
  readonly reference: (t: number) => readonly [value: number, rate: number, acceleration: number]
  /** What the feedforward leaves unbalanced at rest, in units of the push: 0 when it carries the weight exactly. */
  readonly imbalance: number
  /** What it adds as the reference moves. */
  readonly forward?: StateSpace | undefined
  /** With the feedback open the law's command is left out. */
  readonly closed: boolean
  /** Whether the feedback is on at a time, where it is switched on the way; `closed` is then how it starts. */
  readonly switched?: ((t: number) => boolean) | undefined
  /** s */
  readonly until: number
  /** Something that comes in beside the command: on it, on what the law reads as held, or by a second input of `plant`. */
  readonly disturbance?:
    { readonly through: 'push' | 'reading'; readonly value: (t: number) => number } | DisturbedPlant | undefined
}

export interface DisturbedPlant {
  readonly through: 'plant'
  /** What the loop sees, sampled, with the push and then the disturbance as inputs. */
  readonly plant: StateSpace
  readonly value: (t: number) => number
}

/** Columns over time, at the loop's own samples. */
export interface Prediction {
  readonly t: Float64Array
  readonly held: Float64Array
  readonly rate: Float64Array
  /** The push about the operating point, as it reaches the rotors' command. */
  readonly push: Float64Array
  /** What each term of the law asks for, and what is carried beforehand, as they are given. */
  readonly terms: Readonly<Record<string, Float64Array>>
}

/** The linear closed loop sample by sample: exact between samples, with the law itself and its delay. */
export function predict({ law, sampled: own, shown, dt, delay }: LoopModel, request: PredictionRequest): Prediction {
  const { disturbance } = request
  const sampled = disturbance?.through === 'plant' ? disturbance.plant : own
  const count = Math.floor(request.until / dt + 1e-9) + 1
  const n = sampled.a.length
  const a = Float64Array.from(sampled.a.flat())
  const b = Float64Array.from(sampled.b.map((row) => row[0]!))
  const driven = disturbance?.through === 'plant' ? Float64Array.from(sampled.b.map((row) => row[1]!)) : undefined
  const c0 = sampled.c[0]!
  const c1 = shown.rate === undefined ? undefined : sampled.c[shown.rate]
  const others = shown.signals.map((output) => sampled.c[output]!)
  const columns = {
    t: new Float64Array(count),
    held: new Float64Array(count),
    rate: new Float64Array(count),
    push: new Float64Array(count),
  }
  const terms: Record<string, Float64Array> = {}
  const keep = (name: string, k: number, value: number) => ((terms[name] ??= new Float64Array(count))[k] = value)
  let x = new Float64Array(n)
  let next = new Float64Array(n)
  let memory: readonly number[] = law.start
  let wasOn = request.closed
  const forward = forwardSteps(request.forward)
  // before the first command arrives the machine hangs on what the feedforward alone gives
  const waiting = new Array<number>(delay).fill(request.imbalance)
  for (let k = 0; k < count; k++) {
    const t = k * dt
    const held = along(c0, x)
    const beside = disturbance?.value(t) ?? 0
    const seen = disturbance?.through === 'reading' ? held + beside : held
    const rate = c1 === undefined ? 0 : along(c1, x)
    const asked = request.reference(t)
    const carried = request.imbalance + forward(asked)
    let command = carried
    keep('forward', k, carried)
    const isOn = request.switched?.(t)
    if (isOn !== undefined || request.closed) {
      const signals = others.map((row) => along(row, x))
      const read = { error: asked[0] - seen, reference: asked[0], rate, signals, rest: shown.rest, follow: shown.follow }
      const inputs = { ...read, dt, excess: 0 }
      const step =
        isOn === undefined
          ? law.step(inputs, memory, request.gains)
          : switchedStep(law, inputs, memory, request.gains, { isOn, wasOn })
      if (isOn !== undefined) wasOn = isOn
      for (const [name, term] of Object.entries(step.terms)) {
        command += term as number
        keep(name, k, term as number)
      }
      memory = step.memory as readonly number[]
    }
    waiting.push(command)
    const sent = waiting.shift()!
    const push = disturbance?.through === 'push' ? sent + beside : sent
    columns.t[k] = t
    columns.held[k] = held
    columns.rate[k] = rate
    columns.push[k] = sent
    for (let i = 0; i < n; i++) {
      let value = b[i]! * push + (driven === undefined ? 0 : driven[i]! * beside)
      for (let j = 0; j < n; j++) value += a[i * n + j]! * x[j]!
      next[i] = value
    }
    ;[x, next] = [next, x]
  }
  return { ...columns, terms }
}

/** A sampled system from the reference and its derivatives, sample by sample. */
export function forwardSteps(system: StateSpace | undefined): (asked: readonly number[]) => number {
  if (system === undefined) return () => 0
  let memory: readonly number[] = system.a.map(() => 0)
  return (asked) => {
    const { outputs, next } = sampledStep(system, memory, asked)
    memory = next as readonly number[]
    return outputs[0] as number
  }
}

function along(row: readonly number[], x: Float64Array): number {
  let total = 0
  for (let i = 0; i < x.length; i++) total += row[i]! * x[i]!
  return total
}
