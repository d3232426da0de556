/** What of a trial or a linear form can be switched off as a whole. */
export interface Layer<Name extends string = string> {
  readonly name: Name
  readonly label: string
  /** What the others read when it is off. */
  readonly standIn: string
  /** Linear effects stay in the design model, which is exact about them; the others are off there. */
  readonly inDesign: boolean
}

export type SoftwareLayerName = 'estimator' | 'sampling'

/** Layers of the software around every machine, in the order people see. */
export const softwareLayers: readonly Layer<SoftwareLayerName>[] = [
  { name: 'estimator', label: 'Estimator', standIn: 'laws read true values', inDesign: false },
  { name: 'sampling', label: 'Sampling and delay', standIn: 'laws act at every plant step, without delay', inDesign: true },
]
