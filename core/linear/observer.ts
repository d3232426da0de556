import { identity, multiply, plusMatrix, solve, transpose } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import { regulator } from './regulator'
import type { RegulatorWords } from './regulator'

export interface NoiseCovariances {
  /** Of the process noise (spectral density, where time is continuous), symmetric, not negative. */
  readonly qn: Matrix
  /** Of the measurement noise, symmetric, positive. */
  readonly rn: Matrix
  /** Where the process noise enters, n x noises; on every state unless given. */
  readonly g?: Matrix
}

export interface Observer {
  /** x' = a x + b u + l (y - c x); of a sampled system the predictor's gain. */
  readonly l: Matrix
  /** Of a sampled system: gain of the measurement update. */
  readonly update?: Matrix
  /** Steady covariance of the error; of a sampled system before the measurement. */
  readonly p: Matrix
  readonly poles: readonly Complex[]
}

/**
 * The steady Kalman filter: the regulator of the transposed system. Anderson & Moore, Optimal Filtering, 1979 (from
 * memory). Refused as the regulator is, in the words of an observer.
 */
export function observer(
  { a, c, dt }: { readonly a: Matrix; readonly c: Matrix; readonly dt: number | null },
  { qn, rn, g = identity(a.length) }: NoiseCovariances,
): Outcome<Observer> {
  const noises = g[0]?.length ?? 0
  if (g.length !== a.length || qn.length !== noises || qn.some((row) => row.length !== noises))
    return refusedFor('qn', 'qn, g and the states do not fit together.', 'g is states x noises, qn noises x noises.')
  const weights = { q: multiply(multiply(g, qn), transpose(g)), r: rn }
  const found = regulator({ a: transpose(a), b: transpose(c), dt }, weights, words)
  if (found.kind === 'refused') return found
  const { k, s: p, poles } = found.value
  const l = transpose(k)
  if (dt === null) return done({ l, p, poles })
  const spread = plusMatrix(multiply(multiply(c, p), transpose(c)), rn)
  const update = transpose(solve(spread, multiply(c, p), 0)!)
  return done({ l, update, p, poles })
}

const words: RegulatorWords = {
  q: 'qn',
  r: 'rn',
  positive: 'Give every measurement some noise: without any, no finite gain is best.',
  stuck: [
    'No measurement shows',
    ', which does not die out by itself.',
    'Add a sensor that sees it, or leave it out of the model.',
  ],
  onEdge: ['No process noise disturbs', ': it need not be estimated at all.', 'Let some noise enter the states that move in it.'],
}
