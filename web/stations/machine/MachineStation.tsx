import { isBodiless } from '@calm-hand/core/machine'
import { useAskedPlace } from '../../frame/places'
import { chooseMachine, useMachineName } from '../../state/chosenMachine'
import { useOpen } from '../../state/project'
import { BodilessStation } from './bodiless/BodilessStation'
import { MechanismStation } from './mechanism/MechanismStation'

/** What the machine is made of: rigging and ledgers, 3D, findings and layers; by its kind. */
export function MachineStation() {
  const id = useOpen((project) => project.id)
  useAskedPlace(([group, machine]) => group === 'machines' && machine !== undefined && chooseMachine(id, machine))
  const name = useMachineName()
  // a machine that was just added is there once the document has no problems
  const isThere = useOpen((project) => name in project.valid.machines)
  const bodiless = useOpen((project) => isBodiless(project.document.machines[name]!))
  if (!isThere) return null
  return bodiless ? <BodilessStation key={name} name={name} /> : <MechanismStation key={name} name={name} />
}
