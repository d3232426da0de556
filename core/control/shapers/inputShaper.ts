import { div, exp, mul, neg, sqrt, square, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'
import type { Part } from '../../document'
import { choice, number } from '../../kinds'
import type { Kind } from '../../kinds'

/** Splits every command into parts half a swing apart, so that what they excite cancels. */
export const inputShaper = {
  name: 'inputShaper',
  says: 'split each move so that a swing at {frequency}, damped by {damping}, cancels itself, {parts}',
  about:
    'The reference is the sum of itself and its delayed copies, half a period of the swing apart: shares 1 and K over their sum, or 1, 2K and K² where the frequency is not well known; K = e^(-ζπ/√(1-ζ²)). Singer & Seering, Journal of Dynamic Systems, Measurement and Control 112 (1990).',
  slots: {
    frequency: number({ label: 'frequency of the swing', unit: 'rad/s', above: 0, most: 1e4, note: 'undamped' }),
    damping: number({ label: 'damping ratio', unit: '', least: 0, most: 0.95, otherwise: 0 }),
    parts: choice({
      label: 'parts',
      options: { two: 'in two parts', three: 'in three parts, forgiving a frequency that is not exact' },
      otherwise: 'two',
    }),
  },
} as const satisfies Kind

interface Impulse {
  readonly share: Scalar
  /** s */
  readonly late: Scalar
}

function impulses(frequency: Scalar, damping: Scalar, parts: unknown): readonly Impulse[] {
  const root = sqrt(sub(1, square(damping)))
  const half = div(Math.PI, mul(frequency, root))
  const k = exp(neg(div(mul(damping, Math.PI), root)))
  const weights: readonly Scalar[] = parts === 'three' ? [1, mul(2, k), square(k)] : [1, k]
  const whole = sum(weights)
  return weights.map((weight, i) => ({ share: div(weight, whole), late: mul(i, half) }))
}

/** A shaper of a loop, and where its numbers come from. */
export interface Shaper {
  readonly part: Part
  readonly read: (slot: string) => Scalar
}

/** A reference over time behind the shapers of a loop. Before its first cue a reference must be at rest. */
export function shaped(shaping: readonly Shaper[], reference: (t: Scalar) => Scalar): (t: Scalar) => Scalar {
  return shaping.reduce((before, { part, read }) => {
    const parts = impulses(read('frequency'), read('damping'), part.parts)
    return (t) => sum(parts.map(({ share, late }) => mul(share, before(sub(t, late)))))
  }, reference)
}
