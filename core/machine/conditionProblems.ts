import { nameRemedy } from '../document'
import type { Part, Problem } from '../document'

/** Conditions that fix something unknown, or the same thing twice. */
export function conditionProblems(path: string, machine: Part, known: readonly string[]): Problem[] {
  const seen = new Set<string>()
  return Object.entries((machine.conditions ?? {}) as Readonly<Record<string, Part>>).flatMap(([name, part]): Problem[] => {
    const where = `${path}.conditions.${name}.signal`
    const signal = part.signal as string
    if (!known.includes(signal)) {
      const remedy = nameRemedy(signal, known)
      return [{ where, what: `There is nothing named ${signal} that an operating point could fix.`, remedy }]
    }
    if (seen.has(signal)) return [{ where, what: `${signal} is fixed twice.`, remedy: 'Remove one of the two conditions.' }]
    seen.add(signal)
    return []
  })
}
