import { wrapped } from '../algebra'
import { partsIn } from '../document'
import type { Document } from '../document'
import { asCued, pushOf } from '../control'
import { findHeld, heldQuantities, pushesOf } from '../machine'
import { sceneOf } from '../scene'
import { familiesOf } from './families'
import { findColumn } from './record'
import type { Column, Record, Role } from './record'
import { trial } from './trial'
import { valuesOf } from '../kinds'

/** A signal that a run of a trial can show. */
export interface RunSignal {
  /** `boom.angle` of machine `crane` is `crane.boom.angle`. */
  readonly name: string
  readonly label: string
  readonly unit: string
  /** What it is in the run, where there is one. */
  readonly role?: Role
}

const errorOf = /^loops\.([^.]+)\.error$/

const clearanceEnd = '.clearance'

/** The distance of a machine to what stands around it: known once a run has ended. */
export function clearanceOf(machine: string): string {
  return `${machine}${clearanceEnd}`
}

/** Whether a check or a watch of a trial looks at it: it costs more than many a run, so that it is worked out only then. */
export function looksAtClearance(document: Document, trialName: string): boolean {
  const { checks, watch } = document.trials[trialName]!
  return sceneOf(document, trialName)?.obstacles !== undefined && JSON.stringify([checks, watch]).includes(clearanceEnd)
}

export function isClearance(signal: string): boolean {
  return signal.endsWith(clearanceEnd)
}

/** The loop whose error a signal is; nothing where it is another. */
export function errorLoop(signal: string): string | undefined {
  return errorOf.exec(signal)?.[1]
}

/** Every signal of a trial: columns of its run, or what is sure to be there before one, and the error of each loop. */
export function signalsOf(
  document: Document,
  trialName: string,
  record?: { readonly columns: readonly Column[] },
): readonly RunSignal[] {
  const { machine: name } = valuesOf(trial, document.trials[trialName]!)
  const machine = document.machines[name]!
  const loops = Object.entries(document.loops).filter(([, loop]) => loop.machine === name)
  const errors = loops.map(([loop, { holds }]) => {
    const held = findHeld(machine, holds)!
    return { name: `loops.${loop}.error`, label: `${held.label} error`, unit: held.unit }
  })
  const hasObstacles = Object.keys(partsIn(sceneOf(document, trialName)?.obstacles)).length > 0
  const clearance = hasObstacles ? [{ name: clearanceOf(name), label: 'clearance', unit: 'm' }] : []
  if (record !== undefined) {
    const columns = record.columns.map(({ name: column, label, unit, role }) => ({ name: column, label, unit, role }))
    // what nobody looked at so far can be looked at
    return [...errors, ...columns, ...clearance.filter((one) => !columns.some((column) => column.name === one.name))]
  }
  return [
    ...errors,
    ...heldQuantities(machine).map(({ name: quantity, label, unit }) => ({ name: `${name}.${quantity}`, label, unit })),
    ...loops.flatMap(([loop, part]) => {
      const [held, push] = [findHeld(machine, part.holds)!, pushOf(document, part)!]
      return [
        { name: `loops.${loop}.reference`, label: `${held.label} reference`, unit: held.unit },
        { name: `loops.${loop}.command`, label: push.label, unit: push.unit },
      ]
    }),
    ...clearance,
    ...pushesOf(machine).map(({ name: push, label, unit }) => ({ name: asCued(push), label: `${label} asked`, unit })),
  ]
}

/** Families of a run that can be looked at as one: what all tyres carry. */
export function familySignals(record: Pick<Record, 'columns'> | undefined): readonly RunSignal[] {
  return familiesOf(record?.columns ?? []).map(({ name, label, unit, over, members }) => ({
    name,
    label: over === 'part' ? `${label} of all ${members.length}` : `${label} over ${over}`,
    unit,
  }))
}

/** Values of a signal over a run; nothing where the run has none. The error is reference less what is held, as it is. */
export function signalValues(document: Document, record: Pick<Record, 'columns'>, name: string): Float64Array | undefined {
  const loop = errorLoop(name)
  if (loop === undefined) return findColumn(record, name)
  const part = document.loops[loop]
  if (part === undefined) return undefined
  const held = findColumn(record, `${part.machine}.${part.holds}`)
  const reference = findColumn(record, `loops.${loop}.reference`)
  if (held === undefined || reference === undefined) return undefined
  const goesRound = findHeld(document.machines[part.machine]!, part.holds)?.angle === 'goesRound'
  return held.map((value, k) => (goesRound ? (wrapped(reference[k]! - value) as number) : reference[k]! - value))
}
