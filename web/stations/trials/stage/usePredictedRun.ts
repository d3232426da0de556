import { useMemo } from 'react'
import { assemble, mechanism, numbersOf } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'
import { useWatchedPrediction } from '../../../state/together'
import type { TrialView } from '../useTrialView'
import type { PlacedRun } from './movers'

/** Whether a prediction may place a machine: it tells nothing of an attitude, which has more coordinates than speeds. */
export function isPlacedByPrediction(machine: Part): boolean {
  if (machine.kind !== mechanism.name) return false
  const { positions, speeds } = assemble(machine, numbersOf(machine))
  return positions.length === speeds.length
}

/** Where the linear prediction of a trial has the coordinates of its machine; nothing while it is not wanted, or does not tell all of them. */
export function usePredictedRun({ clocked, trial, machine, machineName }: TrialView, isWanted: boolean): PlacedRun | undefined {
  const names = useMemo(
    () =>
      isWanted && isPlacedByPrediction(machine)
        ? assemble(machine, numbersOf(machine)).positions.map(({ name }) => `${machineName}.${name}`)
        : none,
    [isWanted, machine, machineName],
  )
  const prediction = useWatchedPrediction(clocked, trial, machineName, names)
  return useMemo(() => {
    const columns = Object.entries(prediction?.values ?? {}).map(([name, values]) => ({ name: `${machineName}.${name}`, values }))
    return !isWanted || columns.length === 0 || columns.length < names.length ? undefined : { time: prediction!.t, columns }
  }, [prediction, isWanted, machineName, names])
}

const none: readonly string[] = []
