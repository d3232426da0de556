import { partsIn } from '../../document'
import type { Part } from '../../document'
import { findKind, isPart, labelOf } from '../../kinds'
import { readings } from './list'
import type { ReadValue, ReadingKind } from './reading'
import { bodiesOf } from '../linkedBody'

/** Readings of a machine with their document paths. */
export function readingParts(machine: Part): { path: string; name: string; part: Part; kind: ReadingKind }[] {
  // also of a machine that is broken
  const parts = Object.entries(partsIn(machine.readings)).filter(([, part]) => isPart(part))
  return parts.map(([name, part]) => ({ path: `readings.${name}`, name, part, kind: findKind(readings, part)! }))
}

/** A value of a reading under its full name. */
export interface ReadSignal extends ReadValue {
  readonly reading: string
}

/**
 * All values of all readings: `readings.hull.height`. A label that another has too says whose it is: "height of hull", or
 * the reading's own words where that is not enough.
 */
export function readSignals(machine: Part): readonly ReadSignal[] {
  const all = readingParts(machine)
    // a kind that is not known is a problem told elsewhere
    .filter(({ kind }) => kind !== undefined)
    .flatMap(({ path, name, part, kind }) => {
      const full = (value: string) => (value === '' ? path : `${path}.${value}`)
      const owner = kind.owner === undefined ? undefined : (part[kind.owner] as string | undefined)
      const bodies = bodiesOf(machine)
      const body = owner === undefined ? '' : labelOf(bodies[owner], owner)
      return kind.values(part).map((value) => {
        const label = value.name === '' ? labelOf(part, name) : value.label
        return {
          ...value,
          reading: name,
          name: full(value.name),
          ...(value.rate === undefined ? {} : { rate: full(value.rate) }),
          ...(value.vector === undefined
            ? {}
            : {
                vector: {
                  ...value.vector,
                  beside: full(value.vector.beside),
                  attitude: value.vector.attitude.map(full) as [string, string, string],
                },
              }),
          words: [label, `${label} of ${body}`, `${label} of ${labelOf(part, name)}`] as const,
        }
      })
    })
  const count = (of: 0 | 1) => {
    const counts = new Map<string, number>()
    for (const { words } of all) counts.set(words[of], (counts.get(words[of]) ?? 0) + 1)
    return counts
  }
  const [plain, owned] = [count(0), count(1)]
  return all.map(({ words, ...signal }) => ({
    ...signal,
    label: plain.get(words[0]) === 1 ? words[0] : owned.get(words[1]) === 1 ? words[1] : words[2],
  }))
}

/** A value of the first reading of a kind that matches, under its full name; nothing where the machine has none. */
export function findReading(machine: Part, kind: string, matches: (part: Part) => boolean, value: string): string | undefined {
  const found = readingParts(machine).find(({ part }) => part.kind === kind && matches(part))
  return found === undefined ? undefined : `${found.path}.${value}`
}
