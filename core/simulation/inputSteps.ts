import { magnitude, norm } from '../algebra'
import {
  between,
  fromPolynomials,
  minimalRealization,
  poles,
  responseAt,
  sampledWithHold,
  stepResponse,
  transferFunction,
} from '../linear'
import type { StateSpace } from '../linear'

export interface InputStep {
  readonly output: string
  readonly t: readonly number[]
  readonly y: readonly number[]
  /** At the samples of a controller: what the held, sampled model gives there. */
  readonly sampled: readonly { readonly t: number; readonly y: number }[]
  /** Where it comes to rest; nothing where it does not. */
  readonly final: number | undefined
  /** It first goes against where it ends, by its first derivative that is not 0. */
  readonly wrongWay: boolean
}

const points = 121
/** s: a step is looked at no longer, and much shorter where the machine runs away. */
const longest = 2
const mostGrowth = 3
/** Samples over the time that is looked at. */
const samples = 20
/** Of what it could come to: a derivative below is 0 but for rounding. */
const rounding = 1e-9

/** How each coordinate answers a step of one input about the resting point: exact for the linear form. */
export function inputSteps(
  system: StateSpace,
  input: string,
  outputs: readonly string[],
  size = 1,
  seconds = longest,
): InputStep[] {
  const column = system.inputs.indexOf(input)
  const fastest = Math.max(0, ...(system.dt === null ? (poles(system) ?? []) : []).map(({ re }) => re))
  const until = fastest > 0 ? Math.min(seconds, mostGrowth / fastest) : seconds
  const { t, y } = stepResponse(system, until, points, column)
  const every = Math.max(1, Math.floor((t.length - 1) / samples))
  return outputs.map((output) => {
    const row = system.outputs.indexOf(output)
    const values = y.map((all) => size * all[row]!)
    const dots = t.flatMap((at, k) => (k % every === 0 ? [{ t: at, y: values[k]! }] : []))
    const own = minimalRealization(between(system, [input], [output]))
    const final = finalOf(own)
    const last = final ?? y.at(-1)![row]! - y[0]![row]!
    return {
      ...{ output, t, y: values, sampled: dots, final: final === undefined ? undefined : size * final },
      wrongWay: firstWay(own) * Math.sign(last) < 0,
    }
  })
}

export interface StepForms extends InputStep {
  /** The same from the transfer function, at the times of `y`; nothing for a sampled machine or one of too many states. */
  readonly transfer: readonly number[] | undefined
  /** Largest difference of the forms, as a share of the largest excursion. */
  readonly disagreement: number
}

/** States: coefficients of a higher order take long, and have no digits left. */
const mostForTransfer = 24

/** The same steps in all forms of the model: continuous, held and sampled by itself, and as transfer functions. */
export function stepForms(...given: Parameters<typeof inputSteps>): StepForms[] {
  const [system, input, , size = 1] = given
  const column = system.inputs.indexOf(input)
  const isContinuous = system.dt === null
  const steps = inputSteps(...given)
  const [first] = steps
  if (first === undefined) return []
  const every = Math.round((first.t.length - 1) / (first.sampled.length - 1))
  const until = first.t.at(-1)!
  const dt = every * (first.t[1]! - first.t[0]!)
  const held = isContinuous ? stepResponse(sampledWithHold(system, dt), first.sampled.at(-1)!.t, points, column).y : undefined
  return steps.map((step) => {
    const row = system.outputs.indexOf(step.output)
    const sampled = step.sampled.map(({ t, y }, k) => ({ t, y: held === undefined ? y : size * held[k]![row]! }))
    const transfer =
      isContinuous && system.states.length <= mostForTransfer
        ? transferStep(system, column, row, until)?.map((value) => size * value)
        : undefined
    const most = Math.max(...step.y.map(Math.abs), Number.MIN_VALUE)
    const gaps = [...sampled.map(({ y }, k) => y - step.y[k * every]!), ...(transfer ?? []).map((value, k) => value - step.y[k]!)]
    return { ...step, sampled, transfer, disagreement: Math.max(...gaps.map(Math.abs)) / most }
  })
}

/** The step of one channel out of its transfer function, in a canonical form of its own. */
function transferStep(system: StateSpace, input: number, output: number, until: number): number[] | undefined {
  const found = transferFunction(system, input, output)
  if (found === undefined) return undefined
  return stepResponse(fromPolynomials(found.numerator, found.denominator, null), until, points, 0).y.map(([value]) => value!)
}

/** Where a unit step of a channel comes to rest: its gain at rest, where all of its poles fade. */
function finalOf(channel: StateSpace): number | undefined {
  const all = poles(channel)
  const fades = (pole: { readonly re: number; readonly im: number }) =>
    channel.dt === null ? pole.re < -1e-9 : magnitude(pole) < 1 - 1e-9
  if (all === undefined || !all.every(fades)) return undefined
  return responseAt(channel, { re: channel.dt === null ? 0 : 1, im: 0 })?.[0]?.[0]?.re
}

/** The sign of the first of D, C B, C A B, ... that is not 0: whither a step of a channel sets out. */
function firstWay({ a, b, c, d }: StateSpace): number {
  if (d[0]![0] !== 0) return Math.sign(d[0]![0]!)
  let moved = b.map(([value]) => value!)
  for (let k = 0; k < a.length; k++) {
    const now = c[0]!.reduce((sum, value, i) => sum + value * moved[i]!, 0)
    if (Math.abs(now) > rounding * norm(c[0]!) * norm(moved)) return Math.sign(now)
    moved = a.map((row) => row.reduce((sum, value, i) => sum + value * moved[i]!, 0))
  }
  return 0
}
