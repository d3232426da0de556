import { replaceAt } from '@calm-hand/core/document'
import type { Document, Part, Pin } from '@calm-hand/core/document'

/** A named change of the document: pure, and one step of undo. */
export interface Edit {
  readonly label: string
  readonly apply: (document: Document) => Document
}

export function setValue(path: string, value: unknown, label: string): Edit {
  return { label, apply: (document) => replaceAt(document, path, value) }
}

/** The same value at several places, as one step. */
export function setValues(paths: readonly string[], value: unknown, label: string): Edit {
  return { label, apply: (document) => paths.reduce((next, path) => replaceAt(next, path, value), document) }
}

export function pinRun(letter: string, pin: Pin): Edit {
  return { label: `Pin ${letter}`, apply: (document) => ({ ...document, tray: { ...document.tray, [letter]: pin } }) }
}

export function unpin(letter: string): Edit {
  return {
    label: `Unpin ${letter}`,
    apply: (document) => ({
      ...document,
      tray: Object.fromEntries(Object.entries(document.tray).filter(([key]) => key !== letter)),
    }),
  }
}

/** Puts the loops back as they were when something was pinned. */
export function takeLoops(letter: string, loops: Document['loops']): Edit {
  return { label: `Take the loops of ${letter}`, apply: (document) => ({ ...document, loops }) }
}

export function addPart(path: string, part: Part, label: string): Edit {
  return setValue(path, part, label)
}

export function removePart(path: string, label: string): Edit {
  return setValue(path, undefined, label)
}
