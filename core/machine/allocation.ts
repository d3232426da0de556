import { add, div, min, mul, square } from '../expression'
import type { Scalar } from '../expression'
import { boundedLeastSquares, minus, scalarProduct, scalarTranspose, solveDefinite } from '../algebra'
import type { Part } from '../document'
import { rotorCount } from './equations'
import { massProperties } from './massProperties'
import type { Read } from './read'
import { rotorMoment, rotorPlaces, rotorPositions, speedForThrust } from './rotorRing'

/**
 * Rotor speeds that give the asked lift and moments about the centre of mass with the least sum of squared thrusts
 * (right inverse Bᵀ (B Bᵀ)⁻¹; common practice, no source). Uses what the model knows, not what is true in a trial.
 */
export function allocate(machine: Part, read: Read, pushes: readonly Scalar[]): Scalar[] {
  return mixed(effectOf(machine, read), pushes).map((thrust) => speedForThrust(thrust, read))
}

/** Lift and moments of one unit of each rotor's thrust, 4 x rotors, and the size by which each is measured. */
interface Effect {
  readonly b: readonly (readonly Scalar[])[]
  readonly scale: readonly Scalar[]
}

function effectOf(machine: Part, read: Read): Effect {
  const { centre } = massProperties(machine, read)
  const places = rotorPlaces(rotorCount(machine))
  const arms = rotorPositions(places.length, read).map((arm) => minus(arm, centre))
  const effects = places.map(({ turns }, i) => [1, ...rotorMoment(arms[i]!, 1, turns, read)])
  // scaled by the arm length, moments and lift have entries of one size, which keeps digits
  const scale = [1, read('rotors.armLength'), read('rotors.armLength'), read('rotors.armLength')]
  return { b: scalarTranspose(effects).map((row, i) => row.map((value) => div(value, scale[i]!))), scale }
}

function mixed({ b, scale }: Effect, pushes: readonly Scalar[]): Scalar[] {
  const wanted = pushes.map((push, i) => [div(push, scale[i]!)])
  const weights = solveDefinite(scalarProduct(b, scalarTranspose(b)), wanted)
  return scalarProduct(scalarTranspose(b), weights).map(([thrust]) => thrust!)
}

/** So much less than missing a push does it count to leave the plain mix. */
const awayFromMix = 1e-3

/**
 * The same within the limits of the rotors: where these cannot give all that is asked, each push is missed the less the more
 * it counts, least squares of the misses. Within the limits it is the plain mix. `read` gives limits and priorities.
 */
export function allocateWithin(machine: Part, read: Read, pushes: readonly Scalar[]): Scalar[] {
  const { b, scale } = effectOf(machine, read)
  const mix = mixed({ b, scale }, pushes)
  const counts = ['liftCounts', 'tiltCounts', 'tiltCounts', 'turnCounts'].map((slot) => square(read(`rotors.${slot}`)))
  const away = mul(awayFromMix * awayFromMix, min(counts[0]!, min(counts[1]!, counts[3]!)))
  const weighed = b.map((row, i) => row.map((value) => mul(counts[i]!, value)))
  const bare = scalarProduct(scalarTranspose(b), weighed)
  const right = scalarProduct(
    scalarTranspose(weighed),
    pushes.map((push, i) => [div(push, scale[i]!)]),
  )
  const limit = (speed: string) => mul(read('rotors.thrustCoefficient'), square(read(`rotors.${speed}`)))
  const [least, most] = [limit('leastSpeed'), limit('mostSpeed')]
  const thrusts = boundedLeastSquares({
    h: bare.map((row, i) => row.map((value, j) => (i === j ? add(value, away) : value))),
    g: right.map(([value], i) => add(value!, mul(away, mix[i]!))),
    least: mix.map(() => least),
    most: mix.map(() => most),
    start: mix,
  })
  return thrusts.map((thrust) => speedForThrust(thrust, read))
}
