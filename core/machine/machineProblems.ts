import type { Part, Problem } from '../document'
import { bodilessProblems, isBodiless } from './bodiless'
import { mechanismProblems } from './mechanismProblems'

/** What no schema can see in a machine, by its kind. */
export function machineProblems(path: string, machine: Part): Problem[] {
  if (isBodiless(machine)) return bodilessProblems(path, machine)
  return mechanismProblems(path, machine)
}
