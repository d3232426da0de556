import type { Part, Problem } from '../document'
import type { AnyKind } from '../kinds'
import { bodilessFormulaNames, bodilessProblems, isBodiless } from './bodiless'
import { mechanismFormulaNames, mechanismProblems } from './mechanismProblems'

/** What no schema can see in a machine, by its kind. */
export function machineProblems(path: string, machine: Part): Problem[] {
  if (isBodiless(machine)) return bodilessProblems(path, machine)
  return mechanismProblems(path, machine)
}

/** Names that a formula of a machine may use, also of one that has problems; `own` is the path of the part whose formula it is. */
export function machineFormulaNames(machine: Part, own: string, kind: AnyKind): readonly string[] {
  return isBodiless(machine) ? bodilessFormulaNames(machine) : mechanismFormulaNames(machine)(own, kind)
}
