import { expose } from 'comlink'
import type { Part } from '@calm-hand/core/document'
import type { MechanismLayerName } from '@calm-hand/core/machine'
import { modelReport, motionEffort } from '@calm-hand/core/simulation'

/** Looks at a machine away from the interface. */
const inspector = {
  report: (machine: Part, layers: readonly MechanismLayerName[]) => modelReport(machine, new Set(layers)),
  effort: (machine: Part, motion: string, layers: readonly MechanismLayerName[]) =>
    motionEffort(machine, motion, new Set(layers)),
}

export type Inspector = typeof inspector
expose(inspector)
