import { abs, add, atMost, clamp, div, exp, log, max, min, mul, select, sqrt, square, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'

/** A move of length 0 would divide by it; this is less than any move. */
const leastTravel = 1e-12

/** A move from rest to rest: how far it has come at a time since its start, and how long it takes, s. */
export interface RestToRest {
  readonly share: (since: Scalar) => Scalar
  readonly lasts: Scalar
}

/** Switches at which a power of the time since begins to count, with their signs. */
interface Switch {
  readonly at: Scalar
  readonly sign: number
}

/**
 * Constant acceleration, cruise, constant deceleration; without a cruise where the travel is too short for the speed.
 * Lynch & Park, Modern Robotics, 2017, section 9.2.2.2 (from memory).
 */
export function trapezoid(by: Scalar, speed: Scalar, acceleration: Scalar): RestToRest {
  const travel = max(abs(by), leastTravel)
  const top = min(speed, sqrt(mul(travel, acceleration)))
  const rise = div(top, acceleration)
  const cruise = sub(div(travel, top), rise)
  const lasts = add(add(rise, rise), cruise)
  const switches = [
    { at: 0, sign: 1 },
    { at: rise, sign: -1 },
    { at: add(rise, cruise), sign: -1 },
  ]
  return { lasts, share: (since) => summed(switches, since, lasts, (x) => mul(div(acceleration, 2), square(x)), travel) }
}

/**
 * The same with its jerk limited: seven segments, of which those that the travel does not need have no length.
 * Lynch & Park, Modern Robotics, 2017, section 9.2.2.3 (from memory); lengths from v = a (a/j + t) by ourselves.
 */
export function sCurve(by: Scalar, speed: Scalar, acceleration: Scalar, jerk: Scalar): RestToRest {
  const travel = max(abs(by), leastTravel)
  // the speed at the middle of a move without cruise: with the acceleration reached, or not
  const onset = div(square(acceleration), jerk)
  const reached = mul(0.5, sub(sqrt(add(square(onset), mul(4, mul(acceleration, travel)))), onset))
  const short = cubeRoot(mul(0.25, mul(jerk, square(travel))))
  const top = min(speed, select(atMost(onset, reached), reached, short))
  const most = min(acceleration, sqrt(mul(top, jerk)))
  const bend = div(most, jerk)
  const steady = sub(div(top, most), bend)
  const speedUp = add(add(bend, bend), steady)
  const brake = div(travel, top)
  const lasts = add(brake, speedUp)
  const switches = [
    { at: 0, sign: 1 },
    { at: bend, sign: -1 },
    { at: add(bend, steady), sign: -1 },
    { at: speedUp, sign: 1 },
    { at: brake, sign: -1 },
    { at: add(brake, bend), sign: 1 },
    { at: add(brake, add(bend, steady)), sign: 1 },
  ]
  const cubed = (x: Scalar) => mul(div(jerk, 6), mul(square(x), x))
  return { lasts, share: (since) => summed(switches, since, lasts, cubed, travel) }
}

/** Adds up what begins at each switch; at the end it is exactly the whole, whatever rounding left. */
function summed(switches: readonly Switch[], since: Scalar, lasts: Scalar, power: (x: Scalar) => Scalar, travel: Scalar): Scalar {
  const inside = clamp(since, 0, lasts)
  const come = sum(switches.map(({ at, sign }) => mul(sign, power(max(sub(inside, at), 0)))))
  return select(atMost(lasts, since), 1, clamp(div(come, travel), 0, 1))
}

function cubeRoot(x: Scalar): Scalar {
  return exp(div(log(x), 3))
}
