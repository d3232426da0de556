import { expose } from 'comlink'
import type { Part } from '@calm-hand/core/document'
import { modelReport } from '@calm-hand/core/simulation'

/** Checks a machine away from the interface. */
const inspector = { report: (machine: Part) => modelReport(machine) }

export type Inspector = typeof inspector
expose(inspector)
