import { assert } from '../document'
import type { Part } from '../document'
import { massProperties } from './massProperties'
import { rotorCount } from './equations'
import { numbersOf } from './numbers'
import type { Scalar } from '../expression'

/** What follows from a machine's numbers at once. */
export interface MachineFacts {
  readonly mass: number
  readonly centre: readonly number[]
  /** xx, yy, zz about the centre of mass */
  readonly inertia: readonly number[]
  readonly weight: number
  /** Thrust of each rotor that carries the weight, and the speed for it. */
  readonly hoverThrust: number
  readonly hoverSpeed: number
  /** Most thrust of all rotors together. */
  readonly mostThrust: number
  readonly thrustToWeight: number
}

export function machineFacts(machine: Part): MachineFacts {
  const read = numbersOf(machine)
  const at = (path: string) => plain(read(path))
  const { mass, centre, inertia } = massProperties(machine, read)
  const rotors = rotorCount(machine)
  const weight = plain(mass) * at('gravity')
  const coefficient = at('rotors.thrustCoefficient')
  const mostThrust = rotors * coefficient * at('rotors.mostSpeed') ** 2
  return {
    mass: plain(mass),
    centre: centre.map(plain),
    inertia: [plain(inertia[0][0]), plain(inertia[1][1]), plain(inertia[2][2])],
    weight,
    hoverThrust: weight / rotors,
    hoverSpeed: Math.sqrt(weight / rotors / coefficient),
    mostThrust,
    thrustToWeight: mostThrust / weight,
  }
}

function plain(value: Scalar): number {
  assert(typeof value === 'number', 'Facts are computed from numbers.')
  return value
}

/** Mass of all bodies of a machine, kg, with what it carries; 0 without bodies. */
export function totalMass(machine: Part): number {
  const bodies = Object.values((machine.bodies ?? {}) as Readonly<Record<string, Part>>)
  const load = (machine.load as number | undefined) ?? 0
  return (1 + load) * bodies.reduce((sum, { mass }) => sum + (mass as number), 0)
}
