export type LayerName = 'sensorNoise' | 'estimator' | 'sampling' | 'rotorLag' | 'rotorLimits' | 'drag'

export interface Layer {
  readonly name: LayerName
  readonly label: string
  /** What the others read when it is off. */
  readonly standIn: string
  /** Linear effects stay in the design model, which is exact about them; the others are off there. */
  readonly inDesign: boolean
}

/** One physical or software effect each, in the order people see. */
export const layers: readonly Layer[] = [
  { name: 'sensorNoise', label: 'Sensor noise', standIn: 'sensors read true values', inDesign: false },
  { name: 'estimator', label: 'Estimator', standIn: 'laws read true values', inDesign: false },
  { name: 'sampling', label: 'Sampling and delay', standIn: 'laws act at every plant step, without delay', inDesign: true },
  { name: 'rotorLag', label: 'Rotor lag', standIn: 'rotors turn as asked at once', inDesign: true },
  { name: 'rotorLimits', label: 'Rotor limits', standIn: 'rotors give any thrust', inDesign: false },
  { name: 'drag', label: 'Drag', standIn: 'the air does not resist', inDesign: true },
]

export type Layers = ReadonlySet<LayerName>

export const fullRealism: Layers = new Set(layers.map(({ name }) => name))
export const designRealism: Layers = new Set(layers.filter(({ inDesign }) => inDesign).map(({ name }) => name))
