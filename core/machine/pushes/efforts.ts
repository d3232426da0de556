import type { Scalar } from '../../expression'
import type { Part } from '../../document'
import type { EffectKind } from '../effects/effect'
import type { Read } from '../read'
import { numberIn } from '../world'

export interface DrivePart {
  readonly path: string
  readonly part: Part
  readonly kind: EffectKind
}

/** What a drive must be asked for an effort; its input itself where its kind says no more. */
export function effortInput({ path, part, kind }: DrivePart, effort: Scalar, read: Read): Scalar {
  return kind.effort === undefined ? effort : kind.effort.input(effort, numberIn(part, path, read))
}

/** The least and most effort that a drive gives; endless where its kind says none. */
export function effortLimits({ path, part, kind }: DrivePart, read: Read): readonly [least: Scalar, most: Scalar] {
  return kind.effort?.limits(numberIn(part, path, read)) ?? [-Infinity, Infinity]
}
