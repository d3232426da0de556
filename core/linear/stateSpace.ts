import { complex, eigenvalues, magnitude, plusComplex, solveComplex, timesComplex } from '../algebra'
import { atan2, cos, log, sin } from '../expression'
import type { Complex, Matrix } from '../algebra'

/** x' = a x + b u, y = c x + d u; with `dt` in s the prime means the next sample, with null the time derivative. */
export interface StateSpace {
  readonly a: Matrix
  readonly b: Matrix
  readonly c: Matrix
  readonly d: Matrix
  readonly dt: number | null
  readonly states: readonly string[]
  readonly inputs: readonly string[]
  readonly outputs: readonly string[]
}

/** Eigenvalues of a. `undefined` where they cannot be found (entries not finite). */
export function poles(system: StateSpace): Complex[] | undefined {
  return eigenvalues(system.a)
}

const leastSampled = 1e-12

/** A sampled pole z moves as exp(s dt) does: s = ln z / dt. A pole at 0 is over at once: faster than any other. */
export function continuousPole(pole: Complex, dt: number | null): Complex {
  if (dt === null) return pole
  const size = Math.max(magnitude(pole), leastSampled)
  return complex(log(size) / dt, atan2(pole.im, pole.re) / dt)
}

/** A sampled pole nearer to 0 is not felt after a few samples; delays have poles at 0. */
const leastFelt = 1e-4

/** Poles as of a continuous system with the same samples, without what is over at once. `undefined` as for `poles`. */
export function continuousPoles(system: StateSpace): Complex[] | undefined {
  const { dt } = system
  const all = poles(system)
  return dt === null ? all : all?.filter((pole) => magnitude(pole) > leastFelt).map((pole) => continuousPole(pole, dt))
}

/** Poles nearer to the origin than this share of the largest count as integrators. */
const integratorShare = 1e-6

/** How many of some continuous poles integrate, the others, and the size of the largest. */
export function withoutIntegrators(all: readonly Complex[]): {
  readonly integrators: number
  readonly rest: readonly Complex[]
  readonly scale: number
} {
  const scale = Math.max(1e-12, ...all.map(magnitude))
  const rest = all.filter((pole) => magnitude(pole) >= integratorShare * scale)
  return { integrators: all.length - rest.length, rest, scale }
}

export function isStable(system: StateSpace): boolean {
  const all = poles(system)
  if (all === undefined) return false
  return all.every(({ re, im }) => (system.dt === null ? re < 0 : re * re + im * im < 1))
}

/** response[output][input] at the complex frequency s (or z). `undefined` at a pole. */
export function responseAt(system: StateSpace, s: Complex): Complex[][] | undefined {
  const { a, b, c, d } = system
  const shifted = a.map((row, i) => row.map((value, j) => (i === j ? complex(s.re - value, s.im) : complex(-value))))
  const x = solveComplex(
    shifted,
    b.map((row) => row.map((value) => complex(value))),
  )
  if (x === undefined) return undefined
  return c.map((row, i) =>
    d[i]!.map((direct, j) =>
      row.reduce((total, value, k) => plusComplex(total, timesComplex(complex(value), x[k]![j]!)), complex(direct)),
    ),
  )
}

/** The response at w rad/s; of a sampled system up to half its rate. `undefined` at a pole. */
export function frequencyResponse(system: StateSpace, w: number): Complex[][] | undefined {
  const { dt } = system
  return responseAt(system, dt === null ? complex(0, w) : complex(cos(w * dt), sin(w * dt)))
}

/** Output over input at rest: c (-a)⁻¹ b + d, or its sampled form. `undefined` with a pole at 0 (at 1). */
export function steadyGain(system: StateSpace): Matrix | undefined {
  return responseAt(system, complex(system.dt === null ? 0 : 1))?.map((row) => row.map(({ re }) => re))
}

/** The part of a system from one input to some outputs. */
export function channel(system: StateSpace, input: string, outputs: readonly string[]): StateSpace {
  return between(system, [input], outputs)
}

/** The part of a system from some inputs to some outputs. */
export function between(system: StateSpace, inputs: readonly string[], outputs: readonly string[]): StateSpace {
  const columns = inputs.map((name) => system.inputs.indexOf(name))
  const shown = withOutputs(
    system,
    outputs.map((name) => system.outputs.indexOf(name)),
  )
  const picked = (rows: Matrix) => rows.map((row) => columns.map((j) => row[j]!))
  return { ...shown, b: picked(shown.b), d: picked(shown.d), inputs: [...inputs], outputs: [...outputs] }
}

/** A system that shows only some of its outputs, by index and in that order. */
export function withOutputs(system: StateSpace, rows: readonly number[]): StateSpace {
  return {
    ...system,
    c: rows.map((i) => system.c[i]!),
    d: rows.map((i) => system.d[i]!),
    outputs: rows.map((i) => system.outputs[i]!),
  }
}

/** Controllable canonical form of num/den (descending powers, deg num <= deg den, den[0] not 0). */
export function fromPolynomials(num: readonly number[], den: readonly number[], dt: number | null): StateSpace {
  const n = den.length - 1
  const monic = den.map((value) => value / den[0]!)
  const padded = [...new Array<number>(den.length - num.length).fill(0), ...num].map((value) => value / den[0]!)
  const direct = padded[0]!
  const a = Array.from({ length: n }, (_, i) =>
    Array.from({ length: n }, (__, j) => (i === 0 ? -monic[j + 1]! : i === j + 1 ? 1 : 0)),
  )
  return {
    a,
    b: a.map((_, i) => [i === 0 ? 1 : 0]),
    c: [Array.from({ length: n }, (_, j) => padded[j + 1]! - monic[j + 1]! * direct)],
    d: [[direct]],
    dt,
    ...names(n, 1, 1),
  }
}

export function names(states: number, inputs: number, outputs: number): Pick<StateSpace, 'states' | 'inputs' | 'outputs'> {
  const list = (letter: string, count: number) => Array.from({ length: count }, (_, i) => `${letter}${i + 1}`)
  return { states: list('x', states), inputs: list('u', inputs), outputs: list('y', outputs) }
}

/** The coefficients of a real polynomial from its roots, descending, monic. */
export function polynomialFromRoots(roots: readonly Complex[]): number[] {
  let coefficients = [complex(1)]
  for (const root of roots) {
    const shifted = [...coefficients, complex(0)]
    coefficients = shifted.map((value, i) =>
      i === 0 ? value : plusComplex(value, timesComplex(complex(-root.re, -root.im), coefficients[i - 1]!)),
    )
  }
  return coefficients.map(({ re }) => re)
}
