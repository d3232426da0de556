import { partsIn, replaceAt } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { watched, watchedBeside, watchedPath } from '@calm-hand/core/simulation'
import { addPart, removePart, setValue } from '../../../state/edits'
import type { Edit } from '../../../state/edits'
import { freeName } from '../../machine/partEdits'

/** Watches a signal over time. */
export function watchSignal(document: Document, trial: string, signal: string): Edit {
  return addWatch(document, trial, { kind: watched.name, signal }, `Watch ${signal}`)
}

/** Watches one signal over another. */
export function watchPath(document: Document, trial: string, up: string, across: string): Edit {
  return addWatch(document, trial, { kind: watchedPath.name, across, up }, `Watch ${up} over ${across}`)
}

function addWatch(document: Document, trial: string, part: Part, label: string): Edit {
  const keys = Object.keys(partsIn(document.trials[trial]!.watch))
  return addPart(`trials.${trial}.watch.${freeName(keys, 'signal')}`, part, label)
}

/** Draws another signal with a watch. */
export function watchBeside(path: string, watch: Part, signal: string): Edit {
  const key = freeName(Object.keys(partsIn(watch.beside)), 'signal')
  return addPart(`${path}.beside.${key}`, { kind: watchedBeside.name, signal }, `Watch ${signal} beside it`)
}

/** Takes the signal at a place out of a sentence: the first one makes room for the next, the last one ends the watch. */
export function unwatch(path: string, watch: Part, place: number): Edit {
  const label = 'Watch one less'
  const beside = Object.entries(partsIn(watch.beside))
  if (beside.length === 0) return removePart(path, label)
  const [key, next] = beside[Math.max(0, place - 1)]!
  const rest = beside.filter(([one]) => one !== key)
  const left = rest.length === 0 ? undefined : Object.fromEntries(rest)
  return {
    label,
    apply: (document) => {
      const fewer = replaceAt(document, `${path}.beside`, left)
      return place === 0 ? replaceAt(fewer, `${path}.signal`, next.signal) : fewer
    },
  }
}

/** Puts another signal at a place of a sentence. */
export function watchInstead(path: string, watch: Part, place: number, signal: string): Edit {
  const beside = Object.keys(partsIn(watch.beside))
  return setValue(place === 0 ? `${path}.signal` : `${path}.beside.${beside[place - 1]!}.signal`, signal, `Watch ${signal}`)
}
