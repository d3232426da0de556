import { complex, magnitude, overComplex, plusComplex, timesComplex } from './complex'
import type { Complex } from './complex'
import { hessenbergForm } from './hessenberg'
import type { Matrix } from './matrix'

/** a = u t uᴴ: u unitary, t upper triangular with the eigenvalues on its diagonal. */
export interface Schur {
  readonly u: Complex[][]
  readonly t: Complex[][]
}

const mostPasses = 60
const negligible = 2 ** -52

/**
 * Complex Schur form of a real square matrix: Householder reduction to Hessenberg form, then QR steps with Wilkinson's
 * shift. Golub & Van Loan, Matrix Computations, 4th ed., sections 7.4 and 7.5 (from memory). `undefined` where it does
 * not converge (entries not finite).
 */
export function schurForm(matrix: Matrix): Schur | undefined {
  if (matrix.some((row) => row.some((value) => !Number.isFinite(value)))) return undefined
  const n = matrix.length
  const { h, q } = hessenbergForm(matrix)
  const t = h.map((row, i) => row.map((value, j) => complex(j < i - 1 ? 0 : value)))
  const u = q.map((row) => row.map((value) => complex(value)))
  let passes = 0
  for (let high = n - 1; high > 0;) {
    let low = high
    for (; low > 0; low--) {
      const beside = magnitude(t[low]![low]!) + magnitude(t[low - 1]![low - 1]!)
      if (magnitude(t[low]![low - 1]!) <= negligible * beside) break
    }
    if (low > 0) t[low]![low - 1] = complex(0)
    if (low === high) {
      high--
      passes = 0
      continue
    }
    if (++passes > mostPasses) return undefined
    const shift = passes % 10 === 0 ? complex(magnitude(t[high]![high - 1]!)) : wilkinson(t, high)
    step(t, u, low, high, shift)
  }
  return { u, t }
}

/** The eigenvalue of the last 2 x 2 block nearer to its last entry. */
function wilkinson(t: Complex[][], high: number): Complex {
  const [a, b] = [t[high - 1]![high - 1]!, t[high - 1]![high]!]
  const [c, d] = [t[high]![high - 1]!, t[high]![high]!]
  const half = complex((a.re - d.re) / 2, (a.im - d.im) / 2)
  const product = timesComplex(b, c)
  const root = squareRoot(plusComplex(timesComplex(half, half), product))
  const plus = half.re * root.re + half.im * root.im >= 0
  const below = complex(half.re + (plus ? root.re : -root.re), half.im + (plus ? root.im : -root.im))
  if (magnitude(below) === 0) return d
  const change = overComplex(product, below)
  return complex(d.re - change.re, d.im - change.im)
}

function squareRoot({ re, im }: Complex): Complex {
  const size = magnitude({ re, im })
  const real = Math.sqrt(Math.max(0, (size + re) / 2))
  const imaginary = Math.sqrt(Math.max(0, (size - re) / 2))
  return complex(real, im < 0 ? -imaginary : imaginary)
}

/** One QR step on the rows and columns from `low` to `high`. */
function step(t: Complex[][], u: Complex[][], low: number, high: number, shift: Complex): void {
  const n = t.length
  const shifted = (sign: number) => {
    for (let i = low; i <= high; i++) t[i]![i] = complex(t[i]![i]!.re + sign * shift.re, t[i]![i]!.im + sign * shift.im)
  }
  shifted(-1)
  const turns: { c: number; s: Complex }[] = []
  for (let k = low; k < high; k++) {
    const { c, s } = turnOf(t[k]![k]!, t[k + 1]![k]!)
    turns.push({ c, s })
    const [upper, lower] = [t[k]!, t[k + 1]!]
    for (let j = k; j < n; j++) {
      const [x, y] = [upper[j]!, lower[j]!]
      upper[j] = complex(c * x.re + s.re * y.re - s.im * y.im, c * x.im + s.re * y.im + s.im * y.re)
      lower[j] = complex(c * y.re - s.re * x.re - s.im * x.im, c * y.im - s.re * x.im + s.im * x.re)
    }
  }
  turns.forEach(({ c, s }, i) => {
    const k = low + i
    const last = Math.min(k + 1, high)
    const right = (row: Complex[]) => {
      const [x, y] = [row[k]!, row[k + 1]!]
      row[k] = complex(c * x.re + s.re * y.re + s.im * y.im, c * x.im + s.re * y.im - s.im * y.re)
      row[k + 1] = complex(c * y.re - s.re * x.re + s.im * x.im, c * y.im - s.re * x.im - s.im * x.re)
    }
    for (let row = 0; row <= last; row++) right(t[row]!)
    u.forEach(right)
  })
  shifted(1)
}

/** c real and s complex with [c s; -s̄ c] (x, y) = (r, 0). */
function turnOf(x: Complex, y: Complex): { c: number; s: Complex } {
  const [a, b] = [magnitude(x), magnitude(y)]
  if (b === 0) return { c: 1, s: complex(0) }
  if (a === 0) return { c: 0, s: complex(y.re / b, -y.im / b) }
  const r = magnitude(complex(a, b))
  const phase = complex(x.re / a, x.im / a)
  const s = timesComplex(phase, complex(y.re / r, -y.im / r))
  return { c: a / r, s }
}
