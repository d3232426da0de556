import { bodilessForm, isBodiless, motionQuantities, movedCoordinates } from '../machine'
import { name, number, partOf } from '../kinds'
import type { Kind } from '../kinds'
import { partsIn } from '../document'
import type { Part } from '../document'

/** A state that a trial starts with instead of that of its operating point. */
export const startNumber = {
  name: 'startNumber',
  says: 'It starts with {state} at {value}.',
  about:
    'A position or speed of the simulated machine at the start of a trial, where it is another than at the operating point: thrown, turned over, on its way. Loops and estimators start as at that point. It counts before what a kept pose says.',
  slots: {
    state: name({ label: 'position or speed', of: 'startable' }),
    value: number({ label: 'at the start', unit: '' }),
  },
} as const satisfies Kind

/** A pose that the machine keeps, as a row of a motion. */
export const startPose = {
  name: 'startPose',
  says: 'It starts in pose {pose} of {motion}.',
  about:
    'The positions of a kept pose, a row of a motion of the machine, as those of the simulated machine at the start of a trial: at rest, unless numbers say otherwise. What no pose names is as at the operating point.',
  slots: {
    motion: name({ label: 'motion', of: 'motion' }),
    pose: number({ label: 'pose', unit: '', least: 1, whole: true }),
  },
} as const satisfies Kind

/** What a trial may start with. */
export const startKinds = [startNumber, startPose] as const

/** States of a machine that a trial may start with, by name. */
export function startableStates(machine: Part): readonly { readonly name: string; readonly unit: string }[] {
  return isBodiless(machine) ? bodilessForm(machine).states : motionQuantities(machine)
}

interface Start {
  /** The state, and the number in the trial that says it. */
  readonly state: string
  readonly path: string
  readonly value: number
}

/** What a trial starts with, by the name of the state: numbers before kept poses. */
export function startsOf(trial: Part, machine: Part): ReadonlyMap<string, Start> {
  const said = Object.entries(partsIn(trial.starts))
  const posed = said.flatMap(([key, part]) => (part.kind === startPose.name ? ofPose(key, part, machine) : []))
  const numbers = said.flatMap(([key, part]): Start[] => {
    if (part.kind !== startNumber.name) return []
    const { state, value } = partOf(startNumber, part)
    return [{ state, path: `${key}.value`, value }]
  })
  return new Map([...posed, ...numbers].map((one) => [one.state, one]))
}

function ofPose(key: string, part: Part, machine: Part): Start[] {
  const { motion, pose } = partOf(startPose, part)
  const given = partsIn(machine.motions)[motion]
  const row = (given?.knots as readonly (readonly number[])[] | undefined)?.[pose - 1]
  if (given === undefined || row === undefined) return []
  return movedCoordinates(given).map((state, i) => ({ state, path: `${key}.${state}`, value: row[i + 1]! }))
}
