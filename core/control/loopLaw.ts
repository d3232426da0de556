import { neg, select, sub, sum, tan } from '../expression'
import type { Flag, Scalar } from '../expression'
import { assert, partsIn, remembered } from '../document'
import type { Part, Problem } from '../document'
import { findKind, valuesOf } from '../kinds'
import { fromPolynomials, sampledBilinear, sampledStep } from '../linear'
import type { StateSpace } from '../linear'
import { filters } from './filters'
import type { Filter, FilterValues } from './filters'
import { laws } from './laws'
import { ofSettings } from './law'
import type { GainName, GainsOf, LawInputs, LawStep } from './law'

/** A loop's law with its own settings and the filters behind it: what runs, is linearized and is exported. */
export interface LoopLaw {
  /** Equal for equal laws. */
  readonly key: string
  readonly gains: readonly GainName[]
  readonly memory: readonly string[]
  /** What the memory holds before the first sample. */
  readonly start: readonly number[]
  readonly readsRate: boolean
  /** Quantities that it reads beside what it holds. */
  readonly signals: readonly string[]
  /** Why it has no linear form about rest; nothing where it has one. */
  readonly notLinear: string | undefined
  /** Whether it decides by what it holds, and may push something that does not move that. */
  readonly decides: boolean
  readonly step: (inputs: LawInputs, memory: readonly Scalar[], gains: GainsOf<Scalar>) => LawStep
  /** The filters as sampled systems, for an account of what each takes. */
  readonly filters: (dt: number) => readonly StateSpace[]
}

interface NamedFilter {
  readonly name: string
  readonly filter: Filter
  readonly values: FilterValues
}

const made = new Map<string, LoopLaw>()
const mostKept = 500

/** What of a loop makes its law. */
export interface WithLaw {
  readonly law: Part
  readonly filters?: unknown
}

/** The law of a checked loop. The term `filters` is what they add to the sum of the others. */
export function lawOf(loop: WithLaw): LoopLaw {
  const key = JSON.stringify([loop.law, loop.filters])
  return remembered(made, mostKept, key, () => loopLaw(key, loop.law, filtersOf(loop)))
}

function filtersOf(loop: WithLaw): NamedFilter[] {
  return Object.entries(partsIn(loop.filters)).flatMap(([name, part]) => {
    const filter = findKind(filters, part)
    return filter === undefined ? [] : [{ name, filter, values: valuesOf(filter, part) }]
  })
}

function loopLaw(key: string, part: Part, behind: readonly NamedFilter[]): LoopLaw {
  const law = findKind(laws, part)!
  const settings = valuesOf(law, part)
  const sampled = new Map<number, readonly StateSpace[]>()
  const filtersAt = (dt: number) => {
    const known = sampled.get(dt) ?? behind.map((one) => sampledFilter(one, dt))
    sampled.set(dt, known)
    return known
  }
  const remembers = ofSettings(law.memory, settings)
  const own = remembers.length
  const filterMemory = behind.flatMap(({ name, filter, values }) => {
    const { den } = filter.transfer(values)
    return den.slice(1).map((_, k) => `${name}.${k + 1}`)
  })
  return {
    key,
    gains: ofSettings(law.gains, settings),
    memory: [...remembers, ...filterMemory],
    start: [...(law.start?.(settings) ?? remembers.map(() => 0)), ...filterMemory.map(() => 0)],
    readsRate: law.readsRate,
    signals: law.signals?.(settings) ?? [],
    notLinear: law.notLinear,
    decides: law.decides === true,
    filters: filtersAt,
    step: (inputs, memory, gains) => {
      const { terms, memory: next } = law.step(inputs, memory.slice(0, own), gains, settings)
      if (behind.length === 0) return { terms, memory: next }
      assert(typeof inputs.dt === 'number', 'Filters are sampled at a fixed rate.')
      const asked = sum(Object.values(terms))
      let signal = asked
      let at = own
      const kept: Scalar[] = []
      for (const system of filtersAt(inputs.dt)) {
        const x = memory.slice(at, (at += system.a.length))
        const { outputs, next: after } = sampledStep(system, x, [signal])
        kept.push(...after)
        signal = outputs[0]!
      }
      return { terms: { ...terms, filters: sub(signal, asked) }, memory: [...next, ...kept] }
    },
  }
}

/**
 * One step of a law whose feedback is switched. While it is off its terms are nothing and its integral, where it has one, is
 * what makes their sum nothing, so that it takes over without a bump. `wasOn` is how it stood at the sample before.
 */
export function switchedStep(
  law: Pick<LoopLaw, 'memory' | 'step'>,
  inputs: LawInputs,
  memory: readonly Scalar[],
  gains: GainsOf<Scalar>,
  { isOn, wasOn }: { readonly isOn: Flag; readonly wasOn: Flag },
): LawStep {
  const integral = law.memory.indexOf('integral')
  const replaced = (by: (own: Scalar) => Scalar) => (value: Scalar, i: number) => (i === integral ? by(value) : value)
  const bare = law.step(inputs, memory.map(replaced(() => 0)), gains)
  const others = sum(Object.values(bare.terms))
  const started = memory.map(replaced((value) => select(wasOn, value, neg(others))))
  const step = law.step(inputs, started, gains)
  return {
    terms: Object.fromEntries(Object.entries(step.terms).map(([term, value]) => [term, select(isOn, value, 0)])),
    memory: step.memory.map(replaced((value) => select(isOn, value, 0))),
  }
}

/** By the bilinear rule, bent so that the response at the filter's own frequency stays as it is. */
function sampledFilter({ filter, values }: NamedFilter, dt: number): StateSpace {
  const { num, den } = filter.transfer(values)
  const w = filter.centre(values)
  const bent = w === 0 ? dt : (2 * tan((w * dt) / 2)) / w
  return { ...sampledBilinear(fromPolynomials(num, den, null), bent)!, dt }
}

/** What filters of a loop cannot do: more zeros than poles, frequencies that its samples cannot show. */
export function filterProblems(path: string, loop: WithLaw & { readonly rate: number }): Problem[] {
  const half = Math.PI * loop.rate
  return filtersOf(loop).flatMap(({ name, filter, values }) => {
    const where = `${path}.filters.${name}`
    const { num, den } = filter.transfer(values)
    const odd = Object.keys(filter.slots).find((slot) => Array.isArray(values[slot]) && values[slot].length > 1)
    if (odd !== undefined)
      return [
        { where: `${where}.${odd}`, what: 'It has several rows; one is wanted.', remedy: 'Write its coefficients in one row.' },
      ]
    if (den.length === 1 || num.length === 0)
      return [
        {
          where,
          what: `It has no ${num.length === 0 ? 'numerator' : 'pole'}, so it filters nothing.`,
          remedy: 'Give it a pole, such as 0.1 s + 1 below, or remove it.',
        },
      ]
    if (den.length === 0 || !(Math.abs(den[0]!) > 0))
      return [
        { where, what: 'The denominator is empty or starts with 0.', remedy: 'Give its coefficients, the highest power first.' },
      ]
    if (num.length > den.length)
      return [
        {
          where,
          what: 'The numerator has a higher power than the denominator: no sampled law can look ahead.',
          remedy: 'Add a pole, for example a fast one.',
        },
      ]
    const w = filter.centre(values)
    if (!(w < 0.95 * half))
      return [
        {
          where: `${where}.frequency`,
          what: `${w} rad/s lies at or above half the sample rate, ${Number(half.toPrecision(4))} rad/s.`,
          remedy: 'Lower it, or sample the loop faster.',
        },
      ]
    return []
  })
}
