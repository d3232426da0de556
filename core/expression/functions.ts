import { arccosine, arcsine, arctangent, arctangent2 } from './elementary/arctangent'
import { cosine, sine, tangent } from './elementary/circular'
import { exponential } from './elementary/exponential'
import { logarithm } from './elementary/logarithm'
import { power } from './elementary/power'
import { graphOf } from './graph'
import type { ElementaryName, Scalar } from './graph'

/**
 * The elementary functions by name, built from primitive operations: printers replace a node by its expansion, and
 * plain numbers go through the same operations, so every machine gives the same bits. All within 2 ulp.
 */
export const expansions: Record<ElementaryName, (...operands: Scalar[]) => Scalar> = {
  sin: (x) => sine(x!),
  cos: (x) => cosine(x!),
  tan: (x) => tangent(x!),
  asin: (x) => arcsine(x!),
  acos: (x) => arccosine(x!),
  atan: (x) => arctangent(x!),
  atan2: (y, x) => arctangent2(y!, x!),
  exp: (x) => exponential(x!),
  log: (x) => logarithm(x!),
  pow: (x, y) => power(x!, y!),
}

interface OfOne {
  (x: number): number
  (x: Scalar): Scalar
}
interface OfTwo {
  (a: number, b: number): number
  (a: Scalar, b: Scalar): Scalar
}

export const sin = elementary('sin') as OfOne
export const cos = elementary('cos') as OfOne
export const tan = elementary('tan') as OfOne
export const asin = elementary('asin') as OfOne
export const acos = elementary('acos') as OfOne
export const atan = elementary('atan') as OfOne
/** atan2(y, x): angle of the point (x, y), rad in (-pi, pi]. */
export const atan2 = elementary('atan2') as OfTwo
export const exp = elementary('exp') as OfOne
export const log = elementary('log') as OfOne
export const pow = elementary('pow') as OfTwo

function elementary(name: ElementaryName): (a: Scalar, b?: Scalar) => Scalar {
  const expand = expansions[name] as (a: Scalar, b?: Scalar) => Scalar
  return (a, b) => {
    if (typeof a === 'number' && typeof b !== 'object') return expand(a, b)
    return graphOf([a, b ?? 0])!.number(name, b === undefined ? [a] : [a, b])
  }
}
