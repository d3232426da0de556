import { mul, select } from '../expression'
import type { Scalar } from '../expression'
import { number, toggle } from '../kinds'
import type { Kind } from '../kinds'

/** Carries the weight that the model knows, so that feedback need not. */
export const weightFeedforward = {
  name: 'weightFeedforward',
  says: 'carries {scale} of the weight beforehand',
  about: 'command = scale x mass x gravity, from the model, not from what a trial overrides.',
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

/** N, from the weight the model knows. `on` is 1 or 0. */
export function weightPush(on: boolean, scale: Scalar, mass: Scalar, gravity: Scalar): Scalar {
  return select(on, mul(scale, mul(mass, gravity)), 0)
}
