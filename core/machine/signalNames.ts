import { partsIn } from '../document'
import type { Part } from '../document'
import { namesIn } from '../kinds'
import { jointKindsOf } from './assemble'
import { isBodiless } from './bodiless'
import { effectParts } from './mechanismMotion'

/** Names of what acts on a machine from outside; also of one that has problems. */
export function inputNames(machine: Part): string[] {
  if (isBodiless(machine)) return Object.keys(partsIn(machine.inputs))
  return effectParts(machine)
    .filter(({ kind }) => kind?.input !== undefined)
    .map(({ path }) => path)
}

/** Names of what is asked of a machine: pushes that are spread over drives, then inputs that nothing is spread over. */
export function askedNames(machine: Part): string[] {
  const all = Object.values(partsIn(machine.allocations))
  const [pushes, drives] = ['pushes', 'drives'].map((slot) => all.flatMap((one) => namesIn(one[slot])))
  return [...pushes!, ...inputNames(machine).filter((name) => !drives!.includes(name))]
}

/** Names of what can be looked at: positions and speeds, or states and outputs. */
export function outputNames(machine: Part): string[] {
  if (isBodiless(machine)) return [machine.states, machine.outputs].flatMap((group) => Object.keys(partsIn(group)))
  return jointKindsOf(machine).flatMap(({ name, kind }) =>
    kind.goInPairs ? [...kind.positions, ...kind.speeds].map((one) => `${name}.${one.name}`) : [],
  )
}
