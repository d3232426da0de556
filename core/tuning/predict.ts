import { along } from '../algebra'
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
export function predict(model: LoopModel, request: PredictionRequest): Prediction {
  const { read: own, shown, dt } = model
  const { disturbance } = request
  const sampled = disturbance?.through === 'plant' ? disturbance.plant : own
  const count = Math.floor(request.until / dt + 1e-9) + 1
  const n = sampled.a.length
  const a = Float64Array.from(sampled.a.flat())
  const b = Float64Array.from(sampled.b.map((row) => row[0]!))
  const driven = disturbance?.through === 'plant' ? Float64Array.from(sampled.b.map((row) => row[1]!)) : undefined
  const c0 = sampled.c[0]!
  const truth = sampled.c[shown.truth]!
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
  const software = loopSoftware(model, request)
  for (let k = 0; k < count; k++) {
    const t = k * dt
    const held = along(truth, x)
    const beside = disturbance?.value(t) ?? 0
    const told = along(c0, x)
    const seen = disturbance?.through === 'reading' ? told + beside : told
    const rate = c1 === undefined ? 0 : along(c1, x)
    const signals = others.map((row) => along(row, x))
    const { carried, given, sent } = software(t, request.reference(t), { held: seen, rate, signals })
    keep('forward', k, carried)
    for (const name of Object.keys(given)) keep(name, k, given[name]!)
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

/** One sample of a loop's software. */
interface SoftwareStep {
  readonly carried: number
  /** By term of the law; none while the feedback is open. */
  readonly given: Readonly<Record<string, number>>
  readonly sent: number
}

export const noTerms: SoftwareStep['given'] = {}

/**
 * A loop's software about rest, sample by sample: what each part gives, what is carried beforehand as `forward`, and the whole
 * command that arrives behind the computation delay. Before the first one the machine hangs on what the feedforward alone gives.
 */
export function loopSoftware(
  { law, shown: { rest, follow }, dt, delay }: LoopModel,
  { gains, imbalance, forward, closed, switched }: Omit<PredictionRequest, 'reference' | 'until' | 'disturbance'>,
) {
  const carry = forwardSteps(forward)
  const waiting = new Array<number>(delay).fill(imbalance)
  let memory: readonly number[] = law.start
  let wasOn = closed
  return (
    t: number,
    asked: readonly [value: number, rate: number, acceleration: number],
    { held, rate, signals }: { readonly held: number; readonly rate: number; readonly signals: readonly number[] },
  ): SoftwareStep => {
    const carried = imbalance + carry(asked)
    let given: SoftwareStep['given'] = noTerms
    let command = carried
    const isOn = switched?.(t)
    if (isOn !== undefined || closed) {
      const inputs = { error: asked[0] - held, reference: asked[0], rate, signals, rest, follow, dt, excess: 0 }
      const step =
        isOn === undefined ? law.step(inputs, memory, gains) : switchedStep(law, inputs, memory, gains, { isOn, wasOn })
      if (isOn !== undefined) wasOn = isOn
      given = step.terms as SoftwareStep['given']
      for (const name of Object.keys(given)) command += given[name]!
      memory = step.memory as readonly number[]
    }
    waiting.push(command)
    return { carried, given, sent: waiting.shift()! }
  }
}

/** A sampled system from the reference and its derivatives, sample by sample. */
function forwardSteps(system: StateSpace | undefined): (asked: readonly number[]) => number {
  if (system === undefined) return () => 0
  let memory: readonly number[] = system.a.map(() => 0)
  return (asked) => {
    const { outputs, next } = sampledStep(system, memory, asked)
    memory = next as readonly number[]
    return outputs[0] as number
  }
}
