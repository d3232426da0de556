import { add, cos, log, mul, sin, sqrt, uniform } from '../expression'
import type { Scalar } from '../expression'

/**
 * Two independent standard normal numbers for a place in a counted stream.
 * Box & Muller, A Note on the Generation of Random Normal Deviates, Ann. Math. Statist. 29 (1958).
 */
export function normalPair(seed: Scalar, stream: number, counter: Scalar): [Scalar, Scalar] {
  const radius = sqrt(mul(-2, log(uniform(seed, 2 * stream, counter))))
  const angle = mul(2 * Math.PI, uniform(seed, add(2 * stream, 1), counter))
  return [mul(radius, cos(angle)), mul(radius, sin(angle))]
}
