import type { Scalar } from '../../expression'
import type { Part } from '../../document'
import type { EffectKind } from '../effects/effect'
import { effectParts } from '../mechanismMotion'
import { numbersOf } from '../numbers'
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

/** What a drive is asked for the most effort that it gives, and that effort; nothing where its kind knows no most. */
export function mostEffort(machine: Part, path: string): readonly [input: number, effort: number] | undefined {
  const found = effectParts(machine).find((one) => one.path === path)
  if (found?.kind.effort === undefined) return undefined
  const read = numbersOf(machine)
  const [, most] = effortLimits(found, read)
  return Number.isFinite(most) ? [effortInput(found, most, read) as number, most as number] : undefined
}

/** The least and most effort that a drive gives; endless where its kind says none. */
export function effortLimits({ path, part, kind }: DrivePart, read: Read): readonly [least: Scalar, most: Scalar] {
  return kind.effort?.limits(numberIn(part, path, read)) ?? [-Infinity, Infinity]
}

/** What a drive with an effort of its own may be asked at least and at most; nothing of one that has none. */
export function inputLimits(machine: Part, path: string, read: Read): readonly [least: Scalar, most: Scalar] | undefined {
  const found = effectParts(machine).find((one) => one.path === path)
  if (found?.kind.effort === undefined) return undefined
  const [least, most] = effortLimits(found, read).map((effort) => effortInput(found, effort, read))
  return [least!, most!]
}
