import { mul, select } from '../expression'
import type { Scalar } from '../expression'
import { number, toggle } from '../kinds'
import type { Kind } from '../kinds'

/** Carries what holds the machine at its operating point, as the model knows it, so that feedback need not: a weight. */
export const weightFeedforward = {
  name: 'weightFeedforward',
  says: 'carries {scale} of the weight beforehand',
  about:
    'command = scale x what holds the machine at its operating point, for the lift of a lifter mass x gravity: from the model, not from what a trial overrides.',
  slots: {
    on: toggle({ label: 'weight feedforward' }),
    scale: number({ label: 'share of the weight', unit: '', least: 0, most: 3 }),
  },
} as const satisfies Kind

export const noFeedforward = {
  name: 'noFeedforward',
  says: 'nothing beforehand',
  about: 'The command is feedback alone.',
  slots: {},
} as const satisfies Kind

export const feedforwards = [weightFeedforward, noFeedforward]

/** A share of the push that holds the machine, in the unit of the push. */
export function holdingPush(on: boolean, scale: Scalar, holding: Scalar): Scalar {
  return select(on, mul(scale, holding), 0)
}
