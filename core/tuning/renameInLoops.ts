import { partsIn, replaceAt } from '../document'
import type { Document } from '../document'
import { everyPart } from '../kinds'
import { asCued, cuedPush, estimators } from '../control'
import { loop } from './loop'

/** What slots of loops and estimators name of their machine. */
const naming: ReadonlySet<string> = new Set(['held', 'push', 'point'])

/** A document whose loops, estimators and cues on a machine know its quantities and pushes under their new names. */
export function withRenamedInLoops(document: Document, machine: string, renamed: (name: string) => string): Document {
  const all = (group: 'loops' | 'estimators') =>
    Object.entries(document[group]).map(([name, part]) => ({ path: `${group}.${name}`, part }))
  const cued = withRenamedCues(document, machine, renamed)
  return [...all('loops'), ...all('estimators')].reduce((changed, { path, part }) => {
    if (part.machine !== machine) return changed
    return everyPart([loop, ...estimators], path, part).reduce(
      (next, found) =>
        Object.entries(found.kind.slots).reduce((now, [slot, { type, ...definition }]) => {
          const value = found.part[slot]
          const isName = type === 'name' && 'of' in definition && naming.has(definition.of)
          if (!isName || typeof value !== 'string' || renamed(value) === value) return now
          return replaceAt(now, `${found.path}.${slot}`, renamed(value))
        }, next),
      changed,
    )
  }, cued)
}

function withRenamedCues(document: Document, machine: string, renamed: (name: string) => string): Document {
  return Object.entries(document.trials).reduce((changed, [trial, part]) => {
    if (part.machine !== machine) return changed
    return Object.entries(partsIn(part.cues)).reduce((next, [cue, { loop: target }]) => {
      const push = typeof target === 'string' ? cuedPush(target) : undefined
      return push === undefined ? next : replaceAt(next, `trials.${trial}.cues.${cue}.loop`, asCued(renamed(push)))
    }, changed)
  }, document)
}
