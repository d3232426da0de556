import { expose } from 'comlink'
import { done } from '@calm-hand/core/document'
import type { Outcome, Part } from '@calm-hand/core/document'
import { isBodiless } from '@calm-hand/core/machine'
import type { MechanismLayerName } from '@calm-hand/core/machine'
import { equationsInLetters, mechanismInLetters } from '@calm-hand/core/letters'
import type { Letters, Naming } from '@calm-hand/core/letters'
import { modelReport, motionEffort } from '@calm-hand/core/simulation'

/** Looks at a machine away from the interface. */
const inspector = {
  report: (machine: Part, layers: readonly MechanismLayerName[]) => modelReport(machine, new Set(layers)),
  effort: (machine: Part, motion: string, layers: readonly MechanismLayerName[]) =>
    motionEffort(machine, motion, new Set(layers)),
  /** `written` is the machine with its formulas as they stand, `rest` where the linear form is taken. */
  letters: (machine: Part, written: Part, naming: Naming, rest: readonly number[] | undefined): Outcome<Letters> =>
    isBodiless(machine) ? done(equationsInLetters(written)) : mechanismInLetters(machine, written, naming, rest),
}

export type Inspector = typeof inspector
expose(inspector)
