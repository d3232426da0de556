import { estimators } from '../control'
import { loop } from '../tuning'
import type { AnyKind } from '../kinds'
import { machineKinds } from '../machine'
import { parameter } from '../parameter'
import { scene } from '../scene'
import { trial } from '../simulation'

/** The named groups of a document and the kinds each may hold. */
export const groups = {
  parameters: [parameter],
  scenes: [scene],
  machines: machineKinds,
  loops: [loop],
  estimators,
  trials: [trial],
} satisfies Record<string, readonly AnyKind[]>
export type GroupName = keyof typeof groups
