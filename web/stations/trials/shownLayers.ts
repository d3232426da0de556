import { partsIn } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { layersOfMachine, sensorsOf, trialLayers } from '@calm-hand/core/machine'

/** The realism layers that people see: those that some part of the machine asks about, and those of its software. */
export function shownLayers(document: Document, machineName: string, trial: string) {
  const machine = document.machines[machineName]!
  const hasSensors = Object.keys(sensorsOf(machine)).length > 0
  const hasEstimators = Object.values(document.estimators).some((one) => one.machine === machineName)
  const asked: readonly string[] = layersOfMachine(machine).map(({ name }) => name)
  const hasGust = Object.values(partsIn(document.trials[trial]!.cues)).some(({ kind }) => kind === 'gustCue')
  return trialLayers.filter(
    ({ name }) =>
      name === 'sampling' ||
      (name === 'estimator'
        ? hasEstimators
        : name === 'sensorErrors'
          ? hasSensors
          : asked.includes(name) || (name === 'gusts' && hasGust)),
  )
}
