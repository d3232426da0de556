// npm run linear-check: the linear toolbox of the command line on random systems of order 2 to 30, continuous and sampled,
// one or several inputs and outputs, states scaled over 8 decades, with delays; every answer put back into what it answers.
// An ask may be refused with a reason: refusals are counted. Options: --count 1000, --seed 1.
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { linearToolbox } from '../cli/commands/linear'
import { complex, eigenvalues, magnitude, multiply, norm, solveComplex, transpose } from '../core/algebra'
import type { Complex, Matrix } from '../core/algebra'
import { complexSingularValues } from '../core/linear'
import { numbersFrom } from '../core/tests/randomGraph'

const { values: options } = parseArgs({ options: { count: { type: 'string' }, seed: { type: 'string' } } })
const [count, seed] = [Number(options.count ?? 1000), Number(options.seed ?? 1)]
const file = join(mkdtempSync(join(tmpdir(), 'calm-hand-linear-')), 'request.json')

interface Plant {
  readonly a: Matrix
  readonly b: Matrix
  readonly c: Matrix
  readonly d: Matrix
  readonly dt: number | null
}
type Answer = Readonly<Record<string, never>>
type Pair = readonly [number, number]

const tally = new Map<string, { asked: number; refused: number; worst: number; wrong: number }>()

/** Counts an answer: how far it is from what it must satisfy, against what is allowed. */
function judge(name: string, miss: number | undefined, allowed: number): void {
  const one = tally.get(name) ?? { asked: 0, refused: 0, worst: 0, wrong: 0 }
  one.asked++
  if (miss === undefined) one.refused++
  else {
    one.worst = Math.max(one.worst, Number.isNaN(miss) ? Infinity : miss / allowed)
    if (!(miss <= allowed)) one.wrong++
  }
  tally.set(name, one)
}

for (let i = 0; i < count; i++) check(i)
let failed = 0
for (const [name, { asked, refused, worst, wrong }] of tally) {
  failed += wrong
  process.stdout.write(
    `${name.padEnd(20)} ${asked} asked, ${refused} refused, worst ${worst.toPrecision(2)} of what is allowed, ${wrong} wrong\n`,
  )
}
process.stdout.write(`${failed === 0 ? 'All that was answered holds.' : `${failed} answers do not hold.`}\n`)
process.exit(failed === 0 ? 0 : 1)

function check(index: number): void {
  const next = numbersFrom(7919 * (index + 1) + 104_729 * seed)
  for (let k = 0; k < 8; k++) next()
  const n = 2 + Math.floor(next() ** 2 * 29)
  const [m, p] = next() < 0.5 ? [1, 1] : [1 + Math.floor(3 * next()), 1 + Math.floor(3 * next())]
  const dt = next() < 0.4 ? 0.05 : null
  const plain = randomPlant(next, n, m, p, dt)
  const scales = Array.from({ length: n }, () => 10 ** (8 * next() - 4))
  const plant: Plant = next() < 0.5 ? plain : inScales(plain, scales)
  const grid = [0.03, 0.4, 2, 9].map((w) => (dt === null ? w : Math.min(w, 0.9 * (Math.PI / dt))))
  const names = ['poles', 'frequencyResponse', 'transferFunction', 'minimalRealization', 'discretize', 'regulator', 'observer', 'lyapunov', 'norms', 'placePoles', 'exponential', 'zeros', 'margins'] // prettier-ignore
  const unit = (size: number) =>
    Array.from({ length: size }, (_, r) => Array.from({ length: size }, (__, c) => (r === c ? 1 : 0)))
  const wanted = Array.from({ length: n }, (_, k) => [dt === null ? -(1 + 0.7 * k) : 0.8 - (0.75 * k) / n, 0])
  const asks = names.map((name) => ({
    ...{ name, w: grid, dt: dt ?? 0.05, method: 'hold', t: 0.1 },
    ...(name === 'regulator' ? { q: unit(n), r: unit(m) } : {}),
    ...(name === 'observer' ? { qn: unit(n), rn: unit(p), g: unit(n) } : {}),
    ...(name === 'lyapunov' ? { q: unit(n) } : {}),
    ...(name === 'placePoles' ? { poles: wanted } : {}),
  }))
  writeFileSync(file, JSON.stringify({ system: { ...plant }, ask: asks }))
  const { answers } = linearToolbox(file).value as { answers: Answer[] }
  const answer = (name: string): Answer | undefined => {
    const found = answers[names.indexOf(name)]!
    return 'problem' in found ? undefined : found
  }
  const at = (w: number) => (dt === null ? complex(0, w) : complex(Math.cos(w * dt), Math.sin(w * dt)))
  const size = Math.max(...grid.map((w) => largest(response(plain, at(w)))), 1e-300)

  const found = answer('poles')?.poles as readonly Pair[] | undefined
  judge('poles', found && distance(found, pairs(eigenvalues(plain.a)!)), 1e-6 * (1 + spread(plain)))
  const seen = answer('frequencyResponse')?.response as unknown as Pair[][][] | undefined
  judge('frequencyResponse', seen && Math.max(...grid.map((w, k) => apart(seen[k]!.map((row) => row.map(asComplex)), response(plain, at(w))))) / size, 1e-8) // prettier-ignore
  const rational = answer('transferFunction') as unknown as { num: number[][][]; den: number[] } | undefined
  judge('transferFunction', rational && Math.max(...grid.map((w) => apart(rational.num.map((row) => row.map((num) => ratio(num, rational.den, at(w)))), response(plain, at(w))))) / size, 1e-5) // prettier-ignore
  for (const name of ['minimalRealization', 'discretize'] as const) {
    const system = answer(name) as unknown as Plant | undefined
    if (name === 'minimalRealization')
      judge(name, system && Math.max(...grid.map((w) => apart(response(system, at(w)), response(plain, at(w))))) / size, 1e-6)
    else if (dt === null) judge(name, system && held(plain, system, 0.05), 1e-8)
  }
  const gain = answer('regulator') as unknown as { k: Matrix; s: Matrix } | undefined
  judge('regulator', gain && riccati(plant, gain.s, gain.k), 1e-6)
  const x = (answer('lyapunov') as unknown as { x: Matrix } | undefined)?.x
  judge('lyapunov', x && lyapunov(plant, x), 1e-6)
  const placed = answer('placePoles') as unknown as { k: Matrix } | undefined
  judge('placePoles', placed && placedMiss(plant, placed.k, wanted as unknown as Pair[]), 3e-3)
  const e = (answer('exponential') as unknown as { e: Matrix } | undefined)?.e
  judge('exponential', e && commutes(plant.a, e), 1e-9)
  const observer = answer('observer') as unknown as { l: Matrix; p: Matrix } | undefined
  // the dual regulator: transposed, with the predictor's gain where it is sampled
  const dual = { ...plant, a: transpose(plant.a), b: transpose(plant.c) }
  const gained = observer && transpose(observer.l)
  judge('observer', observer && riccati(dual, observer.p, gained!), 1e-6)
  const norms = answer('norms') as unknown as { hinf: number; at: number | null } | undefined
  const largestAt = (w: number) => complexSingularValues(response(plain, at(w)))[0] ?? 0
  judge('norms', norms && Math.max(0, ...grid.map((w) => largestAt(w) / norms.hinf - 1), norms.at === null ? 0 : Math.abs(largestAt(norms.at) / norms.hinf - 1)), 1e-6) // prettier-ignore
  const zeros = answer('zeros')?.zeros as readonly Pair[] | undefined
  if (m === 1 && p === 1)
    judge('zeros', zeros && Math.max(0, ...zeros.filter(([re, im]) => Math.hypot(re, im) < 1e3).map((zero) => magnitude(response(plain, asComplex(zero))[0]![0]!) / slopeNear(plain, zero))), 1e-6) // prettier-ignore
  const margins = answer('margins') as unknown as { gain: { w: number; factor: number }[]; phase: { w: number; degrees: number }[]; stable: boolean } | undefined // prettier-ignore
  if (m === 1 && p === 1) {
    const loop = (w: number) => response(plain, at(w))[0]![0]!
    const phases = margins?.phase.map(({ w }) => Math.abs(magnitude(loop(w)) - 1)) ?? []
    const gains = margins?.gain.filter(({ w, factor }) => w > 0 && Number.isFinite(factor) && w < (dt === null ? Infinity : 0.999 * (Math.PI / dt))).map(({ w, factor }) => Math.hypot(loop(w).re * factor + 1, loop(w).im * factor)) ?? [] // prettier-ignore
    judge('margins', margins && Math.max(0, ...phases, ...gains), 1e-6)
    const closed = eigenvalues(plain.a.map((row, r) => row.map((value, c) => value - (plain.b[r]![0]! * plain.c[0]![c]!) / (1 + plain.d[0]![0]!)))) // prettier-ignore
    const isStable = closed!.every(({ re, im }) => (dt === null ? re < 0 : Math.hypot(re, im) < 1))
    judge('stable', margins && (margins.stable === isStable ? 0 : 1), 0.5)
  }
}

function randomPlant(next: () => number, n: number, m: number, p: number, dt: number | null): Plant {
  const entry = () => 2 * next() - 1
  const rows = (r: number, c: number, of: () => number) => Array.from({ length: r }, () => Array.from({ length: c }, of))
  const a = rows(n, n, () => entry() / Math.sqrt(n)).map((row, i) => row.map((value, k) => (dt === null ? value - (i === k ? 1.2 : 0) : 0.7 * value))) // prettier-ignore
  return { a, b: rows(n, m, entry), c: rows(p, n, entry), d: rows(p, m, () => (next() < 0.3 ? 0.3 * entry() : 0)), dt }
}

/** States measured in other units. */
function inScales({ a, b, c, d, dt }: Plant, s: readonly number[]): Plant {
  return {
    ...{ d, dt },
    a: a.map((row, i) => row.map((value, k) => (value * s[i]!) / s[k]!)),
    b: b.map((row, i) => row.map((value) => value * s[i]!)),
    c: c.map((row) => row.map((value, k) => value / s[k]!)),
  }
}

function response({ a, b, c, d }: Plant, s: Complex): Complex[][] {
  const left = a.map((row, i) => row.map((value, k) => complex((i === k ? s.re : 0) - value, i === k ? s.im : 0)))
  const states = a.length === 0 ? [] : solveComplex(left, b.map((row) => row.map((value) => complex(value))))! // prettier-ignore
  return c.map((row, r) =>
    d[r]!.map((direct, k) =>
      row.reduce(
        (sum, value, j) => complex(sum.re + value * states[j]![k]!.re, sum.im + value * states[j]![k]!.im),
        complex(direct),
      ),
    ),
  )
}

function ratio(num: readonly number[], den: readonly number[], s: Complex): Complex {
  const value = (of: readonly number[]) => of.reduce((sum, one) => complex(sum.re * s.re - sum.im * s.im + one, sum.re * s.im + sum.im * s.re), complex(0)) // prettier-ignore
  const [above, below] = [value(num), value(den)]
  const size = below.re ** 2 + below.im ** 2
  return complex((above.re * below.re + above.im * below.im) / size, (above.im * below.re - above.re * below.im) / size)
}

function apart(one: readonly (readonly Complex[])[], other: readonly (readonly Complex[])[]): number {
  return Math.max(
    ...one.flatMap((row, r) => row.map(({ re, im }, c) => Math.hypot(re - other[r]![c]!.re, im - other[r]![c]!.im))),
  )
}

function largest(of: readonly (readonly Complex[])[]): number {
  return Math.max(...of.flat().map(magnitude))
}

function asComplex([re, im]: Pair): Complex {
  return complex(re, im)
}

function pairs(of: readonly Complex[]): Pair[] {
  return of.map(({ re, im }): Pair => [re, im])
}

function spread({ a }: Plant): number {
  return Math.max(...a.map((row) => norm(row)))
}

/** The farthest that one of a set lies from its nearest of another, each taken once. */
function distance(one: readonly Pair[], other: readonly Pair[]): number {
  if (one.length !== other.length) return Infinity
  const left = [...other]
  return Math.max(
    ...one.map(([re, im]) => {
      const far = left.map(([x, y]) => Math.hypot(re - x, im - y))
      const at = far.indexOf(Math.min(...far))
      left.splice(at, 1)
      return far[at]!
    }),
  )
}

/** What a step held over each sample leaves after ten of them, by small steps of the classic Runge-Kutta method. */
function held(plant: Plant, sampled: Plant, dt: number): number {
  const { a, b, c, d } = plant
  const m = b[0]!.length
  const u = Array.from({ length: m }, (_, k) => 1 + 0.3 * k)
  const outputs = (of: Plant, x: readonly number[]) => of.c.map((row, r) => row.reduce((sum, value, k) => sum + value * x[k]!, of.d[r]!.reduce((sum, value, k) => sum + value * u[k]!, 0))) // prettier-ignore
  const rate = (x: readonly number[]) => a.map((row, i) => row.reduce((sum, value, k) => sum + value * x[k]!, b[i]!.reduce((sum, value, k) => sum + value * u[k]!, 0))) // prettier-ignore
  let x = a.map(() => 0)
  let z = sampled.a.map(() => 0)
  const steps = 400
  const h = dt / steps
  for (let sample = 0; sample < 10; sample++) {
    for (let step = 0; step < steps; step++) {
      const k1 = rate(x)
      const k2 = rate(x.map((value, i) => value + (h / 2) * k1[i]!))
      const k3 = rate(x.map((value, i) => value + (h / 2) * k2[i]!))
      const k4 = rate(x.map((value, i) => value + h * k3[i]!))
      x = x.map((value, i) => value + (h / 6) * (k1[i]! + 2 * k2[i]! + 2 * k3[i]! + k4[i]!))
    }
    z = sampled.a.map((row, i) => row.reduce((sum, value, k) => sum + value * z[k]!, sampled.b[i]!.reduce((sum, value, k) => sum + value * u[k]!, 0))) // prettier-ignore
  }
  const [one, other] = [outputs({ a, b, c, d, dt: null }, x), outputs(sampled, z)]
  return Math.max(...one.map((value, i) => Math.abs(value - other[i]!))) / Math.max(1e-9, ...one.map(Math.abs))
}

/** Of the Riccati equation with q = 1 and r = 1, relative to its largest term, and of the gain that follows from it. */
function riccati({ a, b, dt }: Plant, s: Matrix, k: Matrix): number {
  const [at, bt] = [transpose(a), transpose(b)]
  const one = s.map((row, i) => row.map((_, j) => (i === j ? 1 : 0)))
  const sum = (terms: readonly Matrix[]) => terms.reduce((x, y) => x.map((row, i) => row.map((value, j) => value + y[i]![j]!)))
  const minus = (x: Matrix) => x.map((row) => row.map((value) => -value))
  const gained = multiply(transpose(k), dt === null ? multiply(bt, s) : multiply(multiply(bt, s), a))
  const terms = dt === null ? [multiply(at, s), multiply(s, a), minus(gained), one] : [multiply(multiply(at, s), a), minus(s), minus(gained), one] // prettier-ignore
  const left = sum(terms)
  const size = Math.max(...terms.flatMap((term) => term.map((row) => norm(row))))
  return Math.max(...left.map((row) => norm(row))) / size
}

function lyapunov({ a, dt }: Plant, x: Matrix): number {
  const at = transpose(a)
  const terms = dt === null ? [multiply(a, x), multiply(x, at)] : [multiply(multiply(a, x), at), x.map((row) => row.map((value) => -value))] // prettier-ignore
  const left = x.map((row, i) => row.map((_, j) => terms[0]![i]![j]! + terms[1]![i]![j]! + (i === j ? 1 : 0)))
  return Math.max(...left.map((row) => norm(row))) / Math.max(1, ...terms.flatMap((term) => term.map((row) => norm(row))))
}

/** How much a response changes within a distance of a place that is 1 there: a zero is as exact as that lets it be. */
function slopeNear(plant: Plant, [re, im]: Pair): number {
  const away = 1e-2 * (1 + Math.hypot(re, im))
  return Math.max(...[0, 1, 2, 3].map((k) => magnitude(response(plant, complex(re + away * Math.cos(1.6 * k), im + away * Math.sin(1.6 * k)))[0]![0]!))) // prettier-ignore
}

/** How far the closed poles lie from those that were wanted, as a share of their size. */
function placedMiss({ a, b }: Plant, k: Matrix, wanted: readonly Pair[]): number {
  const closed = multiply(b, k)
  const poles = eigenvalues(a.map((row, i) => row.map((value, j) => value - closed[i]![j]!)))
  return poles === undefined
    ? Infinity
    : distance(pairs(poles), wanted) / Math.max(...wanted.map(([re, im]) => Math.hypot(re, im)))
}

/** An exponential commutes with what it is of. */
function commutes(a: Matrix, e: Matrix): number {
  const [one, other] = [multiply(a, e), multiply(e, a)]
  // entry by entry, as states may be scaled apart
  return Math.max(...one.map((row, i) => norm(row.map((value, j) => value - other[i]![j]!)) / Math.max(1e-300, norm(row))))
}
