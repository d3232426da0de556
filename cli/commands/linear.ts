import Joi from 'joi'
import { exponentialOf, times } from '@calm-hand/core/algebra'
import type { Complex, Matrix } from '@calm-hand/core/algebra'
import * as linear from '@calm-hand/core/linear'
import type { FrequencyFunction, StateSpace } from '@calm-hand/core/linear'
import { badFrom, badInput, fine } from '../output'
import type { Result } from '../output'
import { readJson } from '../read'

const finite = Joi.number().strict()
const matrix = Joi.array().items(Joi.array().items(finite)).max(400)
const pairs = Joi.array().items(Joi.array().items(finite).length(2))
const dt = Joi.number().strict().greater(0).allow(null).default(null)
const requestSchema = Joi.object({
  system: Joi.alternatives(
    Joi.object({ a: matrix.required(), b: matrix.required(), c: matrix.required(), d: matrix.required(), dt }).unknown(false),
    Joi.object({
      num: Joi.array().items(finite).min(1).required(),
      den: Joi.array().items(finite).min(1).required(),
      delay: finite.min(0).default(0),
      dt,
    }),
    Joi.object({ zeros: pairs.required(), poles: pairs.required(), gain: finite.required(), dt }),
  ).required(),
  ask: Joi.array()
    .items(Joi.object({ name: Joi.string().required() }).unknown(true))
    .min(1)
    .required(),
})

interface System {
  readonly space: StateSpace
  /** s, beside the matrices */
  readonly delay: number
}

type Ask = { readonly name: string; readonly [extra: string]: unknown }
type Answer = object

/** linear REQUEST.json */
export function linearToolbox(path: string): Result {
  const read = readJson(path)
  if (read.kind === 'refused') return badFrom(read)
  const { value, error } = requestSchema.validate(read.value, { abortEarly: false }) as {
    value: { system: Readonly<Record<string, unknown>>; ask: Ask[] }
    error?: Error
  }
  if (error !== undefined)
    return badInput(
      'request',
      error.message.replaceAll('"', '`'),
      'Give a system and a list of asks; `calm-hand help linear` shows one.',
    )
  const system = systemFrom(value.system)
  if ('what' in system) return badInput('system', system.what, system.remedy)
  const answers = value.ask.map((ask) => answered(system, ask))
  return fine({ answers }, JSON.stringify({ answers }, null, 2))
}

function systemFrom(given: Readonly<Record<string, unknown>>): System | { what: string; remedy: string } {
  const sample = given.dt as number | null
  if ('a' in given) {
    const { a, b, c, d } = given as unknown as { a: Matrix; b: Matrix; c: Matrix; d: Matrix }
    const [n, m, p] = [a.length, d[0]?.length ?? 0, d.length]
    const fits =
      a.every((row) => row.length === n) &&
      b.length === n &&
      b.every((row) => row.length === m) &&
      c.length === p &&
      c.every((row) => row.length === n) &&
      d.every((row) => row.length === m)
    if (!fits || m === 0 || p === 0)
      return { what: 'The sizes of a, b, c and d do not fit together.', remedy: 'a is n x n, b n x m, c p x n, d p x m.' }
    return { space: { a, b, c, d, dt: sample, ...linear.names(n, m, p) }, delay: 0 }
  }
  const [num, den] = 'num' in given ? [given.num as number[], given.den as number[]] : polynomials(given as never)
  const top = [...num]
  while (top.length > 1 && top[0] === 0) top.shift()
  if (den[0] === 0) return { what: 'The first coefficient of the denominator is 0.', remedy: 'Leave leading zeros out.' }
  if (top.length > den.length)
    return {
      what: 'The numerator has a higher degree than the denominator: no real system answers so.',
      remedy: 'Add the missing poles.',
    }
  return { space: linear.fromPolynomials(top, den, sample), delay: (given.delay as number | undefined) ?? 0 }
}

function polynomials({
  zeros,
  poles,
  gain,
}: {
  zeros: [number, number][]
  poles: [number, number][]
  gain: number
}): [number[], number[]] {
  const roots = (list: [number, number][]) => linear.polynomialFromRoots(list.map(([re, im]) => ({ re, im })))
  return [roots(zeros).map((value) => value * gain), roots(poles)]
}

function answered(system: System, ask: Ask): Answer {
  const find = asks[ask.name]
  if (find === undefined) return problem(`The ask ${ask.name} is not known here.`, `Known: ${Object.keys(asks).join(', ')}.`)
  return find(system, ask)
}

function problem(what: string, remedy: string): Answer {
  return { problem: { what, remedy } }
}

const pair = ({ re, im }: Complex): [number, number] => [re, im]

function responseOf({ space, delay }: System, w: number): Complex[][] | undefined {
  const s = space.dt === null ? { re: 0, im: w } : { re: Math.cos(w * space.dt), im: Math.sin(w * space.dt) }
  const turn = { re: Math.cos(w * delay), im: -Math.sin(w * delay) }
  return linear
    .responseAt(space, s)
    ?.map((row) => row.map((v) => ({ re: v.re * turn.re - v.im * turn.im, im: v.re * turn.im + v.im * turn.re })))
}

const asks: Readonly<Record<string, (system: System, ask: Ask) => Answer>> = {
  poles: ({ space }) => {
    const found = linear.poles(space)
    return found === undefined
      ? problem('The poles cannot be found: entries are not finite.', 'Check the matrices.')
      : { poles: found.map(pair) }
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
  stepFigures: (system, ask) => {
    const options = ask as { until?: number; points?: number; settlingBand?: number; rise?: [number, number] }
    const final = linear.steadyGain(system.space)?.[0]?.[0]
    if (final === undefined || !linear.isStable(system.space))
      return problem('The step response does not come to rest.', 'Close the loop first, or ask for the step response.')
    const until = options.until ?? slowest(system.space) * 12 + system.delay
    const { t, y } = delayed(system, linear.stepResponse(system.space, until, options.points ?? 20_001))
    return linear.stepFigures(
      t,
      y.map((row) => row[0]!),
      {
        final,
        ...(options.settlingBand === undefined ? {} : { settlingBand: options.settlingBand }),
        ...(options.rise === undefined ? {} : { rise: options.rise }),
      },
    )
  },
  discretize: ({ space }, ask) => {
    const { dt: sample, method, w } = ask as { dt?: number; method?: string; w?: number }
    if (!(sample !== undefined && sample > 0) || space.dt !== null)
      return problem('A sample time above 0 s and a continuous system are wanted.', 'Give "dt".')
    if (method === undefined || method === 'hold') return linear.sampledWithHold(space, sample)
    if (method !== 'bilinear') return problem(`The method ${method} is not known here.`, 'Known: hold, bilinear.')
    // prewarping keeps the response at w: the rule is applied with the sample time 2 tan(w dt/2)/w
    const effective = w === undefined ? sample : (2 * Math.tan((w * sample) / 2)) / w
    const sampled = linear.sampledBilinear(space, effective)
    return sampled === undefined
      ? problem('The system has a pole at 2/dt.', 'Choose another sample time.')
      : { ...sampled, dt: sample }
  },
  stateSpace: ({ space }) => space,
  exponential: ({ space }, { t }) =>
    typeof t === 'number' && Number.isFinite(t)
      ? { e: exponentialOf(times(space.a, t)) }
      : problem('The time t is missing.', 'Give "t" in s.'),
}

function slowest(space: StateSpace): number {
  const rates = (linear.poles(space) ?? []).map(({ re, im }) =>
    space.dt === null ? -re : -Math.log(Math.sqrt(re * re + im * im)) / space.dt,
  )
  return 1 / Math.max(1e-9, Math.min(...rates.filter((rate) => rate < 1e9)))
}

function delayed({ delay }: System, { t, y }: linear.Response): linear.Response {
  return delay === 0 ? { t, y } : { t: t.map((time) => time + delay), y }
}

function marginsAnswer(system: System): Answer {
  const { space, delay } = system
  if (space.inputs.length !== 1 || space.outputs.length !== 1)
    return problem('Margins are of one loop: one input, one output.', 'Choose one channel.')
  const loop: FrequencyFunction = (w) => responseOf(system, w)?.[0]?.[0]
  const grid = gridFor(system)
  const found = linear.margins(loop, grid)
  const open = linear.poles(space) ?? []
  return {
    gain: found.gain,
    phase: found.phase.map(({ w, margin }) => ({ w, degrees: (margin * 180) / Math.PI })),
    delay: found.phase.length === 0 ? null : Math.min(...found.phase.map((one) => one.delay)),
    sensitivityPeak: found.sensitivityPeak,
    stable: delay === 0 ? linear.isStable(closed(space)) : stableWithDelay(loop, grid, open),
  }
}

function stableWithDelay(loop: FrequencyFunction, grid: readonly number[], open: readonly Complex[]): boolean {
  const size = (pole: Complex) => Math.sqrt(pole.re * pole.re + pole.im * pole.im)
  const atOrigin = open.filter((pole) => size(pole) < 1e-9).length
  const right = open.filter((pole) => pole.re > 1e-9).length
  return linear.unstableClosedPoles(loop, grid, right, atOrigin) === 0
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
