import { sharing } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'

const mostKept = 8

/**
 * Documents that questions are about, by the number that the page gave them. What is as in the one before is that very part, so
 * that whatever is remembered of parts outlives an edit.
 */
export function createDocuments() {
  const kept = new Map<number, Document>()
  let last: Document | undefined
  return {
    take: (id: number, document: Document): void => {
      last = sharing(document, last)
      // one that is sent again is a new one: by its first place it would be the next to go
      kept.delete(id)
      kept.set(id, last)
      for (const old of [...kept.keys()].slice(0, -mostKept)) kept.delete(old)
    },
    of: (id: number): Document => {
      const found = kept.get(id)
      if (found === undefined) throw new Error('This document is no longer looked at.')
      return found
    },
  }
}
