import type { Part, Problem } from '../document'
import { bodilessProblems, isBodiless } from './bodiless'
import { mechanism } from './mechanism'
import { mechanismProblems } from './mechanismProblems'
import { floatingBodyProblems } from './problems'

/** What no schema can see in a machine, by its kind. */
export function machineProblems(path: string, machine: Part): Problem[] {
  if (isBodiless(machine)) return bodilessProblems(path, machine)
  return machine.kind === mechanism.name ? mechanismProblems(path, machine) : floatingBodyProblems(path, machine)
}
