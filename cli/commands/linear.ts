import Joi from 'joi'
import type { Matrix } from '@calm-hand/core/algebra'
import * as linear from '@calm-hand/core/linear'
import { answerTo, matrix } from './linearAsks'
import type { Ask, System } from './linearAsks'
import { badFrom, badInput, fine } from '../output'
import type { Result } from '../output'
import { readJson } from '../read'

const finite = Joi.number().strict()
const pairs = Joi.array().items(Joi.array().items(finite).length(2))
const dt = Joi.number().strict().greater(0).allow(null).default(null)
const labels = Joi.array().items(Joi.string().max(200)).max(400)
const requestSchema = Joi.object({
  system: Joi.alternatives(
    Joi.object({
      ...{ a: matrix.required(), b: matrix.required(), c: matrix.required(), d: matrix.required(), dt },
      // as an answer that is a system has them
      ...{ states: labels, inputs: labels, outputs: labels },
    }),
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
  const answers = value.ask.map((ask) => answerTo(system, ask))
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
    const named = given as Partial<Record<'states' | 'inputs' | 'outputs', string[]>>
    const { states, inputs, outputs } = { ...linear.names(n, m, p), ...named }
    if (states.length !== n || inputs.length !== m || outputs.length !== p)
      return { what: 'The names do not fit the matrices.', remedy: `Give ${n} states, ${m} inputs, ${p} outputs, or no names.` }
    return { space: { a, b, c, d, dt: sample, states, inputs, outputs }, delay: 0 }
  }
  const lone = 'zeros' in given ? [...(given.zeros as Pair[]), ...(given.poles as Pair[])].find(isLoneIn(given)) : undefined
  if (lone !== undefined)
    return {
      what: `The root ${lone[0]} ${lone[1] < 0 ? '-' : '+'} ${Math.abs(lone[1])}i has no partner.`,
      remedy: 'Complex zeros and poles come in conjugate pairs: give both.',
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

type Pair = [number, number]

/** Whether a complex root comes more often than its conjugate, among zeros or among poles. */
function isLoneIn({ zeros, poles }: Readonly<Record<string, unknown>>) {
  const count = (list: Pair[], [re, im]: Pair) => list.filter((one) => one[0] === re && one[1] === im).length
  return ([re, im]: Pair) =>
    im !== 0 && [zeros as Pair[], poles as Pair[]].some((list) => count(list, [re, im]) !== count(list, [re, -im]))
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
