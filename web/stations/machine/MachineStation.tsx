import { isBodiless } from '@calm-hand/core/machine'
import { useOpen } from '../../state/project'
import { BodilessStation } from './bodiless/BodilessStation'
import { MechanismStation } from './mechanism/MechanismStation'

/** What the machine is made of: rigging and ledgers, 3D, findings and layers; by its kind. */
export function MachineStation() {
  const name = useOpen((project) => Object.keys(project.document.machines)[0]!)
  const bodiless = useOpen((project) => isBodiless(project.document.machines[name]!))
  return bodiless ? <BodilessStation key={name} name={name} /> : <MechanismStation key={name} name={name} />
}
