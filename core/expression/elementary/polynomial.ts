import { add, mul } from '../graph'
import type { Scalar } from '../graph'

/** c[0] + c[1] x + c[2] x² + ..., by Horner's rule. */
export function polynomial(x: Scalar, coefficients: readonly number[]): Scalar {
  return coefficients.reduceRight<Scalar>((value, coefficient) => add(coefficient, mul(x, value)), 0)
}
