import { div } from '../expression'
import type { Scalar } from '../expression'
import { minus, scalarProduct, scalarTranspose, solveDefinite } from '../algebra'
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
  const { centre } = massProperties(machine, read)
  const places = rotorPlaces(rotorCount(machine))
  const arms = rotorPositions(places.length, read).map((arm) => minus(arm, centre))
  const effects = places.map(({ turns }, i) => [1, ...rotorMoment(arms[i]!, 1, turns, read)])
  const b = scalarTranspose(effects) // 4 x rotors
  // scaled by the arm length, moments and lift have entries of one size, which keeps digits
  const scale = [1, read('rotors.armLength'), read('rotors.armLength'), read('rotors.armLength')]
  const scaledB = b.map((row, i) => row.map((value) => div(value, scale[i]!)))
  const wanted = pushes.map((push, i) => [div(push, scale[i]!)])
  const weights = solveDefinite(scalarProduct(scaledB, scalarTranspose(scaledB)), wanted)
  const thrusts = scalarProduct(scalarTranspose(scaledB), weights)
  return thrusts.map(([thrust]) => speedForThrust(thrust!, read))
}
