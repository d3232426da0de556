import type { Document } from '@calm-hand/core/document'
import { floatingBody, layersOfMachine, trialLayers } from '@calm-hand/core/machine'

/** The realism layers that people see: of a machine that is no lifter those that some part of it asks about. */
export function shownLayers(document: Document, machineName: string) {
  const machine = document.machines[machineName]!
  if (machine.kind === floatingBody.name) return trialLayers(machine)
  const hasSensors = Object.keys((machine.sensors ?? {}) as object).length > 0
  const hasEstimators = Object.values(document.estimators).some((one) => one.machine === machineName)
  const asked = layersOfMachine(machine).map(({ name }) => name as string)
  return trialLayers(machine).filter(
    ({ name }) =>
      name === 'sampling' || (name === 'estimator' ? hasEstimators : name === 'sensorErrors' ? hasSensors : asked.includes(name)),
  )
}
