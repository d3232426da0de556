import { partsIn } from '../document'
import type { Part, Problem } from '../document'
import { startableStates } from '../simulation'
import { unknown } from './trialCues'

/** What is wrong with the numbers that a trial starts with. */
export function trialStartProblems(machine: Part, path: string, trial: Part): Problem[] {
  const starts = Object.entries(partsIn(trial.starts))
  if (starts.length === 0) return []
  const known = startableStates(machine).map(({ name }) => name)
  const seen = new Set<string>()
  return starts.flatMap(([key, { state }]): Problem[] => {
    const where = `${path}.starts.${key}.state`
    const name = String(state)
    if (Object.keys(partsIn(machine.chains)).length > 0) {
      const what = 'A machine with closed chains starts where they close: one number of it cannot be another alone.'
      return [{ where, what, remedy: 'Give the bodies another start in the machine, and let the trial ask for the rest.' }]
    }
    if (!known.includes(name)) return unknown(where, 'position or speed', name, known)
    if (seen.has(name)) return [{ where, what: `It starts with ${name} twice.`, remedy: 'Remove one of the two.' }]
    seen.add(name)
    return []
  })
}
