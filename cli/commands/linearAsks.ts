import Joi from 'joi'
import { exponentialOf, times, transpose } from '@calm-hand/core/algebra'
import type { Complex, Matrix } from '@calm-hand/core/algebra'
import type { Outcome } from '@calm-hand/core/document'
import * as linear from '@calm-hand/core/linear'
import type { FrequencyFunction, StateSpace } from '@calm-hand/core/linear'

const finite = Joi.number().strict()
export const matrix = Joi.array().items(Joi.array().items(finite)).max(400)
const polesSchema = Joi.array()
  .items(Joi.alternatives(finite, Joi.array().items(finite).length(2)))
  .required()

export interface System {
  readonly space: StateSpace
  /** s, beside the matrices */
  readonly delay: number
}

export type Ask = { readonly name: string; readonly [extra: string]: unknown }
type Answer = object
interface Refusal {
  readonly problem: { readonly what: string; readonly remedy: string }
}

/** The answer to one ask, or the problem in its place. */
export function answerTo(system: System, ask: Ask): Answer {
  const find = asks[ask.name]
  if (find === undefined) return problem(`The ask ${ask.name} is not known here.`, `Known: ${Object.keys(asks).join(', ')}.`)
  if (system.delay > 0 && !knowDelay.has(ask.name))
    return problem(
      `A delay has no finite number of states, so ${ask.name} cannot count it.`,
      'Discretize the system with a hold, or ask for "rationalDelay" with an order, and go on with that.',
    )
  return find(system, ask)
}

/** Asks whose answers count a delay, or do not change with one. */
const knowDelay = new Set([
  ...['poles', 'zeros', 'steadyGain', 'frequencyResponse', 'margins', 'stepResponse', 'stepFigures', 'norms'],
  ...['discretize', 'rationalDelay', 'exponential'],
])
/** Beyond this its coefficients lose their digits. */
const mostRational = 10

function problem(what: string, remedy: string): Refusal {
  return { problem: { what, remedy } }
}

const tooLong = [
  `Its coefficients cannot carry it: more than ${linear.mostTransferStates} states, or poles too far apart for numbers of 16 digits.`,
  'Ask for poles, zeros and the frequency response, or for the minimalRealization first.',
] as const

const pair = ({ re, im }: Complex): [number, number] => [re, im]

function responseOf({ space, delay }: System, w: number): Complex[][] | undefined {
  const turn = { re: Math.cos(w * delay), im: -Math.sin(w * delay) }
  return linear
    .frequencyResponse(space, w)
    ?.map((row) => row.map((v) => ({ re: v.re * turn.re - v.im * turn.im, im: v.re * turn.im + v.im * turn.re })))
}

const asks: Readonly<Record<string, (system: System, ask: Ask) => Answer>> = {
  poles: ({ space }) => {
    const found = linear.poles(space)
    return found === undefined
      ? problem('The poles cannot be found: entries are not finite.', 'Check the matrices.')
      : { poles: found.map(pair) }
  },
  zeros: ({ space }) => {
    const found = linear.transmissionZeros(space)
    return found === undefined
      ? problem('The zeros cannot be found: entries are not finite.', 'Check the matrices.')
      : { zeros: found.map(pair) }
  },
  steadyGain: ({ space }) => {
    const gain = linear.steadyGain(space)
    return gain === undefined
      ? problem('The system integrates: it has no steady gain.', 'Ask for the frequency response instead.')
      : { gain }
  },
  frequencyResponse: (system, { w }) => {
    if (!Array.isArray(w)) return problem('The frequencies w are missing.', 'Give "w": [ ... ] in rad/s.')
    const response = (w as number[]).map((one) => responseOf(system, one)?.map((row) => row.map(pair)) ?? null)
    return { w: w as number[], response }
  },
  margins: (system) => marginsAnswer(system),
  stepResponse: (system, ask) => {
    const { until, points, input } = {
      until: 10,
      points: 201,
      input: 0,
      ...(ask as { until?: number; points?: number; input?: number }),
    }
    if (!(until > 0 && points >= 2 && points <= 200_000 && system.space.inputs[input] !== undefined))
      return problem(
        'until, points or input cannot be used.',
        'Give until > 0, points from 2 to 200000, and an input that exists.',
      )
    return delayed(system, linear.stepResponse(system.space, until, points, input))
  },
  stepFigures: ({ space, delay }, ask) => {
    const options = ask as { input?: number; output?: number; settlingBand?: number; rise?: [number, number] }
    if ((space.inputs.length > 1 && options.input === undefined) || (space.outputs.length > 1 && options.output === undefined))
      return problem('It has several channels, and figures are of one.', 'Give "input" and "output", counted from 0.')
    const { input = 0, output = 0, settlingBand = 0.02, rise = [0.1, 0.9] } = options
    if (space.inputs[input] === undefined || space.outputs[output] === undefined)
      return problem(
        'There is no such channel.',
        `Give an input below ${space.inputs.length}, an output below ${space.outputs.length}.`,
      )
    if (!(settlingBand > 0 && settlingBand < 1) || !(rise[0] >= 0 && rise[0] < rise[1] && rise[1] <= 1))
      return problem('settlingBand or rise cannot be used.', 'Give shares of the travel: 0.02, and for the rise [0.1, 0.9].')
    const channel = linear.between(space, [space.inputs[input]], [space.outputs[output]])
    const found = linear.exactStepFigures(channel, { settlingBand, rise, delay })
    return found.kind === 'refused' ? fromOutcome(found) : found.value
  },
  rationalDelay: ({ space, delay }, { order }) => {
    if (!(typeof order === 'number' && Number.isInteger(order) && order >= 1 && order <= mostRational))
      return problem('The order cannot be used.', `Give a whole number from 1 to ${mostRational}.`)
    if (delay === 0 || space.dt !== null)
      return problem('There is no delay to replace.', 'Give a continuous system with "delay".')
    const { num, den } = linear.delayAsRational(delay, order)
    const found = linear.transferFunction(space, 0, 0)
    if (found === undefined) return problem(...tooLong)
    const { numerator, denominator } = found
    return linear.fromPolynomials(product(numerator, num), product(denominator, den), null)
  },
  discretize: ({ space, delay }, ask) => {
    const { dt: sample, method, w } = ask as { dt?: number; method?: string; w?: number }
    if (!(sample !== undefined && sample > 0) || space.dt !== null)
      return problem('A sample time above 0 s and a continuous system are wanted.', 'Give "dt".')
    if (method === undefined || method === 'hold') return linear.sampledWithDelay(space, sample, delay)
    if (delay > 0) return problem(`With a delay the method ${method} has no exact answer.`, 'Take the method hold.')
    if (method === 'ramp') return linear.sampledWithRamp(space, sample)
    if (method !== 'bilinear') return problem(`The method ${method} is not known here.`, 'Known: hold, ramp, bilinear.')
    // prewarping keeps the response at w: the rule is applied with the sample time 2 tan(w dt/2)/w
    const effective = w === undefined ? sample : (2 * Math.tan((w * sample) / 2)) / w
    const sampled = linear.sampledBilinear(space, effective)
    return sampled === undefined
      ? problem('The system has a pole at 2/dt.', 'Choose another sample time.')
      : { ...sampled, dt: sample }
  },
  transferFunction: ({ space }) => {
    const all = space.outputs.map((_, i) => space.inputs.map((__, j) => linear.transferFunction(space, j, i)))
    const first = all[0]![0]
    if (first === undefined || all.flat().includes(undefined)) return problem(...tooLong)
    return { num: all.map((row) => row.map((one) => one!.numerator)), den: first.denominator }
  },
  stateSpace: ({ space }) => space,
  regulator: ({ space }, ask) => {
    const given = matricesOf(ask, { q: true, r: true, n: false })
    if ('problem' in given) return given
    const { q, r, n } = given
    return fromOutcome(linear.regulator(space, { q: q!, r: r!, ...(n === undefined ? {} : { n }) }))
  },
  observer: ({ space }, ask) => {
    const given = matricesOf(ask, { qn: true, rn: true, g: false })
    if ('problem' in given) return given
    const { qn, rn, g } = given
    return fromOutcome(linear.observer(space, { qn: qn!, rn: rn!, ...(g === undefined ? {} : { g }) }))
  },
  placePoles: ({ space }, { poles }) => {
    const { value, error } = polesSchema.validate(poles) as { value: (number | [number, number])[]; error?: Error }
    if (error !== undefined)
      return problem('The poles are missing.', 'Give "poles": [ -1, [-2, 3], [-2, -3] ], one for each state.')
    return fromOutcome(
      linear.placePoles(
        space,
        value.map((one) => (typeof one === 'number' ? { re: one, im: 0 } : { re: one[0], im: one[1] })),
      ),
    )
  },
  controllability: ({ space }) => ({
    rank: linear.reachable(space.a, space.b).reached[0]?.length ?? 0,
    singularValues: linear.krylovValues(space.a, space.b),
  }),
  observability: ({ space }) => ({
    rank: linear.observable(space.a, space.c).reached[0]?.length ?? 0,
    singularValues: linear.krylovValues(transpose(space.a), transpose(space.c)),
  }),
  gramians: ({ space }) => fromOutcome(linear.gramians(space)),
  norms: ({ space }) => {
    const found = linear.norms(space)
    // without h2 and at infinite frequency JSON has no number: null
    return found.kind === 'refused'
      ? fromOutcome(found)
      : { h2: found.value.h2 ?? null, hinf: found.value.hinf, at: Number.isFinite(found.value.at) ? found.value.at : null }
  },
  minimalRealization: ({ space }, { tolerance }) =>
    tolerance === undefined || (typeof tolerance === 'number' && tolerance > 0 && tolerance < 1)
      ? linear.minimalRealization(space, tolerance)
      : problem('The tolerance cannot be used.', 'Give a share between 0 and 1, for example 1e-9.'),
  lyapunov: ({ space }, ask) => {
    const given = matricesOf(ask, { q: true })
    if ('problem' in given) return given
    const { q } = given
    if (q!.length !== space.a.length || q!.some((row) => row.length !== space.a.length))
      return problem('q does not fit the states.', `Give ${space.a.length} rows of ${space.a.length}.`)
    const found = linear.lyapunov(space.a, q!, space.dt)
    return found.kind === 'refused' ? fromOutcome(found) : { x: found.value }
  },
  exponential: ({ space }, { t }) =>
    typeof t === 'number' && Number.isFinite(t)
      ? { e: exponentialOf(times(space.a, t)) }
      : problem('The time t is missing.', 'Give "t" in s.'),
}

/** Of two polynomials. */
function product(a: readonly number[], b: readonly number[]): number[] {
  const out = new Array<number>(a.length + b.length - 1).fill(0)
  a.forEach((x, i) => b.forEach((y, j) => (out[i + j]! += x * y)))
  return out
}

/** Matrices among an ask's extras. `wanted` says which must be there. */
function matricesOf(ask: Ask, wanted: Readonly<Record<string, boolean>>): Readonly<Record<string, Matrix | undefined>> | Refusal {
  const found: Record<string, Matrix | undefined> = {}
  for (const [name, needed] of Object.entries(wanted)) {
    if (ask[name] === undefined && !needed) continue
    const { value, error } = matrix.required().validate(ask[name]) as { value: Matrix; error?: Error }
    if (error !== undefined)
      return problem(`The matrix ${name} is missing or not a matrix.`, `Give "${name}": [[ ... ], ...], rows of numbers.`)
    found[name] = value
  }
  return found
}

function fromOutcome<Value extends object>(outcome: Outcome<Value>): Answer {
  if (outcome.kind === 'done') return withPairs(outcome.value)
  const { what, remedy } = outcome.problems[0]!
  return problem(what, remedy)
}

/** Complex numbers as [re, im]. */
function withPairs(value: object): Answer {
  const isComplex = (one: unknown): one is Complex => typeof one === 'object' && one !== null && 're' in one
  const shown = (one: unknown) =>
    Array.isArray(one) && one.some(isComplex) ? one.map((each: Complex) => pair(each)) : (one as unknown)
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, shown(one)]))
}

function delayed({ delay }: System, { t, y }: linear.Response): linear.Response {
  return delay === 0 ? { t, y } : { t: t.map((time) => time + delay), y }
}

function marginsAnswer(system: System): Answer {
  const { space, delay } = system
  if (space.inputs.length !== 1 || space.outputs.length !== 1)
    return problem('Margins are of one loop: one input, one output.', 'Choose one channel.')
  const loop: FrequencyFunction = (w) => responseOf(system, w)?.[0]?.[0]
  const top = space.dt === null ? Infinity : Math.PI / space.dt
  const found = linear.margins(loop, linear.widened(loop, gridFor(system), top))
  const unstable = space.dt === null && delay > 0 ? linear.unstableClosedPoles(space, delay) : undefined
  return {
    gain: found.gain,
    phase: found.phase.map(({ w, margin }) => ({ w, degrees: (margin * 180) / Math.PI })),
    delay: found.phase.length === 0 ? null : Math.min(...found.phase.map((one) => one.delay)),
    sensitivityPeak: found.sensitivityPeak,
    stable: unstable === undefined ? linear.isStable(closed(space)) : unstable === 0,
  }
}

/** Negative unity feedback: a - b (1 + d)⁻¹ c. */
function closed(space: StateSpace): StateSpace {
  const scale = 1 / (1 + space.d[0]![0]!)
  return { ...space, a: space.a.map((row, i) => row.map((value, j) => value - space.b[i]![0]! * scale * space.c[0]![j]!)) }
}

function gridFor({ space, delay }: System): number[] {
  if (space.dt !== null) return linear.frequencyGrid(1e-5 / space.dt, (Math.PI / space.dt) * (1 - 1e-9))
  const sizes = (linear.poles(space) ?? []).map(({ re, im }) => Math.sqrt(re * re + im * im)).filter((size) => size > 1e-9)
  const [least, most] = sizes.length === 0 ? [1, 1] : [Math.min(...sizes), Math.max(...sizes)]
  if (delay === 0) return linear.frequencyGrid(least * 1e-4, most * 1e4)
  return linear.frequencyGrid(Math.min(least, 1 / delay) * 1e-4, Math.max(most * 10, 100 / delay), 0.1 / delay)
}
