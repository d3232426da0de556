import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { isBodiless, totalMass } from '@calm-hand/core/machine'
import { withUnit } from '../../units'
import { FigureDrawing } from './FigureDrawing'
import { MechanismDrawing } from './MechanismDrawing'

interface Seen {
  readonly machine: Part
}

/** Drawn from the model itself, by its kind. */
export function MachineDrawing({ machine }: Seen) {
  return isBodiless(machine) ? <FigureDrawing machine={machine} /> : <MechanismDrawing machine={machine} />
}

export function MachineMass({ machine }: Seen) {
  return isBodiless(machine) ? null : <span className="number">{withUnit(totalMass(machine), 'kg', 3)}</span>
}

/** Of what it is made, in words. */
export function MachineParts({ machine }: Seen) {
  const count = (group: string) => Object.keys(partsIn(machine[group])).length
  const words = (number: number, one: string, many: string) => `${number} ${number === 1 ? one : many}`
  return isBodiless(machine)
    ? `${words(count('states'), 'state', 'states')}, ${words(count('inputs'), 'input', 'inputs')}`
    : `${words(count('bodies'), 'body', 'bodies')}, ${words(count('drives'), 'drive', 'drives')}`
}
