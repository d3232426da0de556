import { add, div, mul, sqrt, square, sub } from '../expression'
import type { Scalar } from '../expression'

export interface RotorDisc {
  /** kT: thrust in hover over the square of the speed, N·s²/rad² */
  readonly hoverThrust: Scalar
  readonly density: Scalar
  readonly radius: Scalar
  /** Solidity times the blades' lift slope, 1/rad */
  readonly bladeLift: Scalar
}

/**
 * Flow through a rotor of fixed blades at speed w, climbing at V along its axis: blade elements with even inflow give
 * T = K1 w² - K2 w x with x = V + v_i and K2 = rho A R s a / 4; momentum gives T = 2 rho A x (x - V). K1 is such that it
 * hovers with kT w². The quadratic in x is solved in closed form. Leishman, Principles of Helicopter Aerodynamics,
 * 2nd ed., 2.14.1 and 3.3 (from memory). No vortex ring: fast descent is not described.
 */
export function throughFlow(
  { hoverThrust, density, radius, bladeLift }: RotorDisc,
  speed: Scalar,
  climb: Scalar,
): { thrust: Scalar; inducedVelocity: Scalar } {
  const area = mul(Math.PI, square(radius))
  const twoRhoA = mul(2, mul(density, area))
  const k2 = mul(0.25, mul(mul(mul(density, area), radius), bladeLift))
  const k1 = add(hoverThrust, mul(k2, sqrt(div(hoverThrust, twoRhoA))))
  const b = sub(mul(twoRhoA, climb), mul(k2, speed))
  const x = div(add(b, sqrt(add(square(b), mul(mul(4, twoRhoA), mul(k1, square(speed)))))), mul(2, twoRhoA))
  return { thrust: sub(mul(k1, square(speed)), mul(mul(k2, speed), x)), inducedVelocity: sub(x, climb) }
}

/** v_i of a disc that gives a thrust while it climbs at V: momentum, Leishman, 2.14.1. */
export function inducedVelocity(thrust: Scalar, density: Scalar, radius: Scalar, climb: Scalar): Scalar {
  const half = mul(0.5, climb)
  const twoRhoA = mul(2, mul(density, mul(Math.PI, square(radius))))
  return sub(sqrt(add(square(half), div(thrust, twoRhoA))), half)
}

/** Thrust near the ground over that far from it, at equal power. Cheeseman & Bennett, ARC R&M 3021, 1955. */
export function groundEffect(radius: Scalar, height: Scalar): Scalar {
  return div(1, sub(1, square(div(radius, mul(4, height)))))
}
