import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { assemble, forwardDynamics, numbersOf } from './index'

/**
 * Derived by hand from the Lagrangian of a trolley (mass M, place s) with a load (mass m, inertia I about its centre) on
 * a rod of length l that hangs at θ, the load at s - l sin θ, -l cos θ:
 *   (M + m) s'' - m l cos θ θ'' + m l sin θ θ'² = F
 *   (I + m l²) θ'' - m l cos θ s'' + m g l sin θ = 0
 */
function byHand(values: readonly number[]): [number, number] {
  const [M, m, I, l, angle, rate, F] = values as [number, number, number, number, number, number, number]
  const g = 9.80665
  const [sin, cos] = [Math.sin(angle), Math.cos(angle)]
  const [a, b, d] = [M + m, -m * l * cos, I + m * l * l]
  const [p, q] = [F - m * l * sin * rate * rate, -m * g * l * sin]
  const determinant = a * d - b * b
  return [(d * p - b * q) / determinant, (a * q - b * p) / determinant]
}

describe('a trolley with a hanging load', () => {
  it('moves as its Lagrangian says', () => {
    const range = (min: number, max: number) => fc.double({ min, max, noNaN: true })
    const some = fc.tuple(range(1, 50), range(1, 80), range(0.01, 5), range(0.2, 4), range(-3, 3), range(-4, 4), range(-300, 300))
    fc.assert(
      fc.property(some, (values) => {
        const [M, m, I, l, angle, rate, F] = values
        const machine = mechanismPart({
          trolley: bodyPart(M, [0, 0, 0], [1, 1, 1], jointPart('sliding', 'ground', [0, 0, 3], { axis: [1, 0, 0] })),
          load: bodyPart(m, [0, 0, -l], [I, I, I], jointPart('turning', 'trolley', [0, 0, 0], { axis: [0, 1, 0] })),
        })
        const { tree } = assemble(machine, numbersOf(machine))
        const found = forwardDynamics(tree, { q: [0.7, angle], speeds: [1.3, rate] }, [F, 0]) as number[]
        expect(found).toBeNear(byHand(values), { relative: 1e-9, absolute: 1e-9 })
      }),
    )
  })
})
