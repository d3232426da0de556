import { identity, multiply, norm, plusMatrix, solve, symmetricProduct, times, transpose } from '../algebra'
import type { Matrix } from '../algebra'
import { log } from '../expression'

/** Doubling reaches working precision in about ten steps, or in as many more as the slowest pole is slow. */
const mostDoublings = 60
const mostCorrections = 4
/** A correction needs only some of its digits. */
const roughly = 1e-7
const settled = 1e-15
/** A correction is good to more digits than this, so where there is room it gains them. */
const worthAnother = 1e-3
/** A share of the largest term that no correction makes much smaller. */
const precise = 2e-15

export interface RiccatiSolution {
  readonly x: Matrix
  /** What the equation leaves, as a share of its largest term. */
  readonly residual: number
}

/**
 * The stabilizing x of aᵀ x + x a - x g x + q = 0, or of x = aᵀ x (1 + g x)⁻¹ a + q for a sampled system; g and q are
 * symmetric and not negative. Structure-preserving doubling, after a Cayley transform where time is continuous: Chu, Fan
 * & Lin, Linear Algebra and its Applications 396 (2005); then Newton's corrections (Kleinman, IEEE TAC 13, 1968), both
 * from memory. `undefined` where it does not converge: there is no such x, or none that double precision can find.
 */
export function riccati(a: Matrix, g: Matrix, q: Matrix, dt: number | null): RiccatiSolution | undefined {
  // x in units that make both terms alike
  const [sizeG, sizeQ] = [size(g), size(q)]
  const unit = sizeG > 0 && sizeQ > 0 ? 2 ** Math.round(log(sizeQ / sizeG) / (2 * Math.LN2)) : 1
  const [gs, qs] = [times(g, unit), times(q, 1 / unit)]
  const started = dt === null ? transformed(a, gs, qs) : { a, g: gs, h: qs }
  const first = started === undefined ? undefined : doubled(started)
  if (first === undefined) return undefined
  let best = { x: first, left: leftOver(a, gs, qs, first, dt) }
  for (let k = 0; k < mostCorrections && best.left.share > precise; k++) {
    const better = corrected(a, gs, best.x, best.left.matrix, dt)
    if (better === undefined) break
    const left = leftOver(a, gs, qs, better, dt)
    const gained = left.share / best.left.share
    if (!(gained < 0.5)) break
    best = { x: better, left }
    // a correction that helps less than it could has met the rounding of the equation itself
    if (gained > worthAnother) break
  }
  return { x: times(best.x, unit), residual: best.left.share }
}

interface Pencil {
  readonly a: Matrix
  readonly g: Matrix
  readonly h: Matrix
}

function transformed(a: Matrix, g: Matrix, q: Matrix): Pencil | undefined {
  const n = a.length
  const base = Math.max(Math.sqrt(size(a) ** 2 + size(g) * size(q)), 1e-300) / Math.sqrt(n)
  for (const factor of [1, 1.37, 0.71, 2.3]) {
    const gamma = factor * base
    const shifted = plusMatrix(a, times(identity(n), -gamma))
    const gAcross = solve(shifted, g, 0) // A_γ⁻¹ G
    const qAcross = solve(transpose(shifted), q, 0) // A_γ⁻ᵀ H
    if (gAcross === undefined || qAcross === undefined) continue
    const upper = plusMatrix(transpose(shifted), multiply(q, gAcross)) // A_γᵀ + H A_γ⁻¹ G
    const inverse = solve(upper, identity(n), 0)
    if (inverse === undefined) continue
    return {
      a: plusMatrix(identity(n), times(transpose(inverse), 2 * gamma)),
      g: symmetric(times(multiply(gAcross, inverse), 2 * gamma)),
      h: symmetric(times(multiply(inverse, transpose(qAcross)), 2 * gamma)),
    }
  }
  return undefined
}

function doubled(start: Pencil): Matrix | undefined {
  let { a, g, h } = start
  const one = identity(a.length)
  for (let k = 0; k < mostDoublings; k++) {
    const w = plusMatrix(one, multiply(g, h))
    const both = solve(
      w,
      a.map((row, i) => [...row, ...g[i]!]),
      0,
    )
    if (both === undefined) return undefined
    const n = a.length
    const aOver = both.map((row) => row.slice(0, n)) // (1 + G H)⁻¹ A
    const gOver = both.map((row) => row.slice(n)) // (1 + G H)⁻¹ G
    const across = transpose(a)
    const change = symmetricProduct(multiply(across, h), aOver)
    const next = plusMatrix(h, change)
    g = plusMatrix(g, symmetricProduct(multiply(a, gOver), across))
    a = multiply(a, aOver)
    h = next
    if (!Number.isFinite(size(h))) return undefined
    if (size(change) <= settled * size(h)) return h
  }
  return undefined
}

/** What the equation leaves for an x, and that as a share of its largest term. */
function leftOver(a: Matrix, g: Matrix, q: Matrix, x: Matrix, dt: number | null): { matrix: Matrix; share: number } {
  const xa = multiply(x, a)
  if (dt === null) {
    const gone = multiply(multiply(x, g), x)
    const matrix = symmetric(plusMatrix(plusMatrix(plusMatrix(xa, transpose(xa)), times(gone, -1)), q))
    return { matrix, share: size(matrix) / Math.max(1e-300, size(xa), size(gone), size(q)) }
  }
  const w = plusMatrix(identity(a.length), multiply(g, x))
  const next = multiply(transpose(xa), solve(w, a, 0) ?? a)
  const matrix = symmetric(plusMatrix(plusMatrix(next, times(x, -1)), q))
  return { matrix, share: size(matrix) / Math.max(1e-300, size(x), size(next), size(q)) }
}

/** Newton's step: the change that the closed loop's Lyapunov equation gives for what is left over. */
function corrected(a: Matrix, g: Matrix, x: Matrix, left: Matrix, dt: number | null): Matrix | undefined {
  const closed =
    dt === null ? plusMatrix(a, times(multiply(g, x), -1)) : solve(plusMatrix(identity(a.length), multiply(g, x)), a, 0)
  if (closed === undefined) return undefined
  const start = dt === null ? transformedLinear(closed, left) : { a: closed, h: left }
  const change = start === undefined ? undefined : summedUp(start)
  return change === undefined ? undefined : symmetric(plusMatrix(x, change))
}

/** The same transform without a quadratic term. */
function transformedLinear(a: Matrix, q: Matrix): Pick<Pencil, 'a' | 'h'> | undefined {
  const n = a.length
  const gamma = Math.max(size(a), 1e-300) / Math.sqrt(n)
  const inverse = solve(plusMatrix(a, times(identity(n), -gamma)), identity(n), 0) // of a stable a: never singular
  if (inverse === undefined) return undefined
  return {
    a: plusMatrix(identity(n), times(inverse, 2 * gamma)),
    h: symmetric(times(multiply(multiply(transpose(inverse), q), inverse), 2 * gamma)),
  }
}

/** h + aᵀ h a + (a²)ᵀ h a² + ...: doubling without the quadratic term (Smith, SIAM J. Appl. Math. 16, 1968, from memory). */
function summedUp(start: Pick<Pencil, 'a' | 'h'>): Matrix | undefined {
  let { a, h } = start
  for (let k = 0; k < mostDoublings; k++) {
    const change = symmetricProduct(transpose(a), multiply(h, a))
    h = plusMatrix(h, change)
    if (!Number.isFinite(size(h))) return undefined
    if (size(change) <= roughly * size(h)) return h
    a = multiply(a, a)
  }
  return undefined
}

function symmetric(m: Matrix): number[][] {
  return m.map((row, i) => row.map((value, j) => 0.5 * (value + m[j]![i]!)))
}

/** Frobenius norm. */
function size(m: Matrix): number {
  return norm(m.map(norm))
}
