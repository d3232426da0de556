import type { Document, Part } from '../document'
import { estimatorsOf, pushOf } from '../control'
import type { NumberPlace } from '../kinds'
import { effectInputs, findHeld, machineNumbers, shortName } from '../machine'
import { sensorsRead } from './mechanismSensorBlocks'
import type { RunSignal } from './signals'

/** What of a machine is said about drawing, about the start of a run or about what software knows: changing it in a run does nothing. */
const stillNumbers = [
  /(^|\.)shapes\./,
  /^(figure|readings|pushes|allocations|motions|points|expectations)\./,
  /\.(start|taken)$/,
  /^sensors\.[^.]+\.(rate|delay)$/,
]

/** Numbers of a machine that may change while it runs. */
export function changingNumbers(machine: Part): readonly NumberPlace[] {
  return machineNumbers(machine).filter(({ path }) => !stillNumbers.some((still) => still.test(path)))
}

/**
 * Signals of a trial that a fault can sit on, between the one that gives them and those who read them: readings of sensors
 * and estimates that something reads, what loops are asked and command, and what drives are asked.
 */
export function alterableSignals(document: Document, machineName: string): readonly RunSignal[] {
  const machine = document.machines[machineName]!
  const told = (quantity: string, end: string): RunSignal[] => {
    const held = findHeld(machine, quantity)
    return held === undefined
      ? []
      : [{ name: `${machineName}.${quantity}.${end}`, label: `${held.label} ${end}`, unit: held.unit }]
  }
  const measured = sensorsRead(document, machineName).flatMap(({ quantities }) => quantities)
  const estimated = estimatorsOf(document, machineName).flatMap(({ part, kind }) => kind.estimates(machine, part))
  const loops = Object.entries(document.loops).filter(([, loop]) => loop.machine === machineName)
  return [
    ...[...new Set(measured)].flatMap((quantity) => told(quantity, 'measured')),
    ...[...new Set(estimated)].flatMap((quantity) => told(quantity, 'estimate')),
    ...loops.flatMap(([name, loop]): RunSignal[] => {
      const [held, push] = [findHeld(machine, loop.holds), pushOf(document, loop)]
      return [
        { name: `loops.${name}.reference`, label: `${held?.label} reference`, unit: held?.unit ?? '' },
        { name: `loops.${name}.command`, label: `${push?.label} of ${name}`, unit: push?.unit ?? '' },
      ]
    }),
    ...effectInputs(machine).map(({ name: drive, unit }) => ({
      ...{ name: `${machineName}.${drive}.asked`, label: `${shortName(drive, machine)} asked`, unit },
    })),
  ]
}
