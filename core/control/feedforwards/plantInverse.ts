import { add, mul, sum } from '../../expression'
import {
  fromPolynomials,
  minimalRealization,
  polynomialFromRoots,
  poles,
  sampledBilinear,
  sampledStep,
  transmissionZeros,
  withOutputs,
} from '../../linear'
import type { StateSpace } from '../../linear'
import { multiply } from '../../algebra'
import { defineFeedforward, forwardSlots } from './feedforward'

/** Derivatives of a reference that are known. */
const mostDerivatives = 2
/** A zero this near to the axis, in shares of the largest pole or zero, would ring for ever in the inverse. */
const onTheAxis = 1e-9

interface Inverse {
  /** On the reference, its rate and its acceleration. */
  readonly gains: readonly number[]
  /** The rest, which no derivative makes: strictly proper, its poles the zeros of the plant. */
  readonly rest: StateSpace | undefined
}

type Inverted =
  { readonly kind: 'inverse'; readonly value: Inverse } | { readonly kind: 'not'; readonly what: string; readonly remedy: string }

const known = new WeakMap<StateSpace, Inverted>()

/** The exact inverse D/N of a plant N/D with at most two more poles than zeros: q2 s² + q1 s + q0 + R/N. */
function inverted(plant: StateSpace): Inverted {
  const found = known.get(plant) ?? invert(plant)
  known.set(plant, found)
  return found
}

function invert(plant: StateSpace): Inverted {
  const gainsInstead = 'Use gains on the reference and its derivatives.'
  if (plant.dt !== null) return { kind: 'not', what: 'The machine seen by this loop is a sampled one.', remedy: gainsInstead }
  const channel = minimalRealization(withOutputs(plant, [0]))
  const [zeros, ends] = [transmissionZeros(channel), poles(channel)]
  if (zeros === undefined || ends === undefined)
    return { kind: 'not', what: 'Its poles or zeros were not found.', remedy: gainsInstead }
  const extra = ends.length - zeros.length
  if (extra > mostDerivatives)
    return {
      kind: 'not',
      what: `It has ${extra} more poles than zeros; only the rate and acceleration of a reference are known.`,
      remedy: gainsInstead,
    }
  const scale = Math.max(1e-300, ...[...zeros, ...ends].map(({ re, im }) => Math.abs(re) + Math.abs(im)))
  const wrong = zeros.find(({ re }) => re > -onTheAxis * scale)
  if (wrong !== undefined)
    return {
      kind: 'not',
      what: `It has a zero at ${Number(wrong.re.toPrecision(3))}: it first moves the wrong way or never dies out, so its inverse is unstable.`,
      remedy: gainsInstead,
    }
  // N/D = first Π(s - zeros)/Π(s - poles), where first = c a^(extra-1) b, the first of them that is not 0
  let column = channel.b.map((row) => [row[0]!])
  for (let k = 1; k < extra; k++) column = multiply(channel.a, column)
  const first = extra === 0 ? channel.d[0]![0]! : multiply(channel.c, column)[0]![0]!
  const numerator = polynomialFromRoots(zeros)
  const remainder = [...polynomialFromRoots(ends)]
  const quotient: number[] = []
  for (let k = 0; k <= extra; k++) {
    const factor = remainder[k]!
    quotient.push(factor / first)
    numerator.forEach((value, i) => (remainder[k + i]! -= factor * value))
  }
  const left = remainder.slice(extra + 1).map((value) => value / first)
  const isExact = left.every((value) => Math.abs(value) < 1e-12 * Math.max(...quotient.map(Math.abs)))
  const rest = zeros.length === 0 || isExact ? undefined : fromPolynomials(left, numerator, null)
  return { kind: 'inverse', value: { gains: quotient.reverse(), rest } }
}

export const plantInverse = defineFeedforward({
  name: 'plantInverse',
  label: 'inverse of the linear plant',
  says: 'carries {scale} of what the linear machine needs to follow at once',
  about:
    'The inverse of the linear machine from push to what is held, its lags left out, beside what holds it at rest: exact on the rate and acceleration of the reference, the rest a filter whose poles are the zeros of the machine (sampled by the bilinear rule). Refused where those do not die out. Devasia, Chen & Paden, IEEE Transactions on Automatic Control 41 (1996), for the case without unstable zeros (from memory).',
  slots: forwardSlots,
  needs: 'linearPlant',
  refusal: (plant) => {
    const found = inverted(plant())
    return found.kind === 'not' ? found : undefined
  },
  remembers: (plant) => {
    const found = inverted(plant())
    return found.kind === 'inverse' ? (found.value.rest?.a.length ?? 0) : 0
  },
  command: ({ asked, dt }, memory, _read, _part, plant) => {
    const found = inverted(plant())
    if (found.kind === 'not') return { command: 0, memory }
    const { gains, rest } = found.value
    const direct = sum(gains.map((gain, i) => mul(gain, asked[i]!)))
    if (rest === undefined) return { command: direct, memory: [] }
    const { outputs, next } = sampledStep(sampledBilinear(rest, dt)!, memory, [asked[0]])
    return { command: add(direct, outputs[0]!), memory: next }
  },
})
