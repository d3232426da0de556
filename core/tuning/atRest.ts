import { complex, magnitude } from '../algebra'
import type { Complex } from '../algebra'
import { responseAt } from '../linear'
import type { StateSpace } from '../linear'
import type { Gains, LoopModel } from './loopModel'

/** How near to rest the ratio of two outputs is looked at, in rad a sample or rad/s. */
export const nearRest = 1e-5

/** Whether the first output stays where it is for a push that stays: its answer falls with the frequency towards rest. */
function vanishesAtRest(plant: StateSpace): boolean {
  const at = (w: number) => {
    const value = responseAt(plant, complex(plant.dt === null ? w : 1 + w * plant.dt))?.[0]?.[0]
    return value === undefined ? Infinity : magnitude(value)
  }
  return at(nearRest) < 0.3 * at(10 * nearRest)
}

/** So near to 1 a pole of a sampled loop stands still. */
const standing = 1e-6

/** An integral of a loop whose push moves at rest nothing of what it holds: it may stand anywhere, and nobody feels it. */
export function integralIsHidden({ law, plant }: Pick<LoopModel, 'law' | 'plant'>): boolean {
  return law.gains.includes('ki') && law.memory.includes('integral') && vanishesAtRest(plant)
}

/** Poles of a closed loop without the one that an integral holds at 1 and that nobody feels, as it has no gain or is hidden. */
export function feltPoles(isHidden: () => boolean, { ki }: Pick<Gains, 'ki'>, poles: readonly Complex[]): readonly Complex[] {
  const away = poles.map(({ re, im }) => magnitude(complex(re - 1, im)))
  const least = Math.min(...away)
  return ki === 0 || (least < standing && isHidden()) ? poles.filter((_, i) => i !== away.indexOf(least)) : poles
}
