import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import { everyPart } from '../kinds'
import { estimators } from './estimators'
import { loop } from './loop'

/** A document whose loops and estimators on a machine know its quantities and pushes under their new names. */
export function withRenamedInLoops(document: Document, machine: string, renamed: (name: string) => string): Document {
  const all = (group: 'loops' | 'estimators') =>
    Object.entries(document[group]).map(([name, part]) => ({ path: `${group}.${name}`, part }))
  return [...all('loops'), ...all('estimators')].reduce((changed, { path, part }) => {
    if (part.machine !== machine) return changed
    return everyPart([loop, ...estimators], path, part).reduce(
      (next, found) =>
        Object.entries(found.kind.slots).reduce((now, [slot, { type, ...definition }]) => {
          const value = (found.part as Part)[slot]
          const isName = type === 'name' && 'of' in definition && (definition.of === 'held' || definition.of === 'push')
          if (!isName || typeof value !== 'string' || renamed(value) === value) return now
          return replaceAt(now, `${found.path}.${slot}`, renamed(value))
        }, next),
      changed,
    )
  }, document)
}
