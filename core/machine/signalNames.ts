import type { Part } from '../document'
import { findKind, isPart, namesIn } from '../kinds'
import { isBodiless } from './bodiless'
import { joints } from './joints'
import { effectParts } from './mechanismMotion'

/** Names of what acts on a machine from outside, lifters apart; also of one that has problems. */
export function inputNames(machine: Part): string[] {
  if (isBodiless(machine)) return Object.keys((machine.inputs ?? {}) as object)
  return effectParts(machine)
    .filter(({ kind }) => kind?.input !== undefined)
    .map(({ path }) => path)
}

/** Names of what is asked of a machine: pushes that are spread over drives, then inputs that nothing is spread over. */
export function askedNames(machine: Part): string[] {
  const all = Object.values((machine.allocations ?? {}) as Readonly<Record<string, Part>>)
  const [pushes, drives] = ['pushes', 'drives'].map((slot) => all.flatMap((one) => namesIn(one[slot])))
  return [...pushes!, ...inputNames(machine).filter((name) => !drives!.includes(name))]
}

/** Names of what can be looked at: positions and speeds, or states and outputs. */
export function outputNames(machine: Part): string[] {
  if (isBodiless(machine)) return [machine.states, machine.outputs].flatMap((group) => Object.keys((group ?? {}) as object))
  // also of one that is broken: a body may lack its joint
  return Object.entries((machine.bodies ?? {}) as Readonly<Record<string, Partial<Part> | null>>).flatMap(([name, body]) => {
    const joint = body?.joint
    const kind = isPart(joint) ? findKind(joints, joint) : undefined
    return kind?.goInPairs === true ? [...kind.positions, ...kind.speeds].map((one) => `${name}.${one.name}`) : []
  })
}
