import { motionQuantities, bodilessForm, isBodiless } from '../machine'
import { name, number, partOf } from '../kinds'
import type { Kind } from '../kinds'
import { partsIn } from '../document'
import type { Part } from '../document'

/** A state that a trial starts with instead of that of its operating point. */
export const startNumber = {
  name: 'startNumber',
  says: 'It starts with {state} at {value}.',
  about:
    'A position or speed of the simulated machine at the start of a trial, where it is another than at the operating point: thrown, turned over, on its way. Loops and estimators start as at that point.',
  slots: {
    state: name({ label: 'position or speed', of: 'startable' }),
    value: number({ label: 'at the start', unit: '' }),
  },
} as const satisfies Kind

/** States of a machine that a trial may start with, by name. */
export function startableStates(machine: Part): readonly { readonly name: string; readonly unit: string }[] {
  return isBodiless(machine) ? bodilessForm(machine).states : motionQuantities(machine)
}

/** What a trial starts with, by the name of the state. */
export function startsOf(trial: Part): ReadonlyMap<string, { readonly key: string; readonly value: number }> {
  return new Map(
    Object.entries(partsIn(trial.starts)).map(([key, part]) => {
      const { state, value } = partOf(startNumber, part)
      return [state, { key, value }]
    }),
  )
}
