import { log } from '../expression'
import { balancingScales, inScales } from './balance'
import { identity, multiply, plusMatrix, rowNorm, solve, times, transpose, zeros } from './matrix'
import type { Matrix } from './matrix'

/**
 * e^a of the balanced matrix, as units must not matter, by scaling and squaring with the (13, 13) Padé approximant.
 * N. J. Higham, The Scaling and Squaring Method for the Matrix Exponential Revisited, SIAM J. Matrix Anal. Appl. 26
 * (2005); coefficients and bound quoted from memory.
 */
export function exponentialOf(a: Matrix): number[][] {
  const d = balancingScales(a)
  return exponentialAsItIs(inScales(a, d)).map((row, i) => row.map((value, j) => (value / d[j]!) * d[i]!))
}

function exponentialAsItIs(a: Matrix): number[][] {
  const n = a.length
  const norm = rowNorm(transpose(a))
  const squarings = Math.max(0, Math.ceil(log(norm / 5.371920351148152) / Math.LN2))
  const s = times(a, 2 ** -squarings)
  const s2 = multiply(s, s)
  const s4 = multiply(s2, s2)
  const s6 = multiply(s2, s4)
  const c = padeCoefficients
  const combined = (k6: number, k4: number, k2: number, k0: number) =>
    plusMatrix(plusMatrix(times(s6, k6), times(s4, k4)), plusMatrix(times(s2, k2), times(identity(n), k0)))
  const odd = multiply(s, plusMatrix(multiply(s6, combined(c[13]!, c[11]!, c[9]!, 0)), combined(c[7]!, c[5]!, c[3]!, c[1]!)))
  const even = plusMatrix(multiply(s6, combined(c[12]!, c[10]!, c[8]!, 0)), combined(c[6]!, c[4]!, c[2]!, c[0]!))
  let result = solve(plusMatrix(even, times(odd, -1)), plusMatrix(even, odd))
  if (result === undefined) return zeros(n, n).map((row) => row.map(() => NaN)) // only for entries that are not finite
  for (let k = 0; k < squarings; k++) result = multiply(result, result)
  return result
}

const padeCoefficients = [
  64764752532480000, 32382376266240000, 7771770303897600, 1187353796428800, 129060195264000, 10559470521600, 670442572800,
  33522128640, 1323241920, 40840800, 960960, 16380, 182, 1,
]
