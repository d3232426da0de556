import { checkDocument, problemInWords } from '@calm-hand/core'
import type { Document, Problem } from '@calm-hand/core/document'

export interface Judgement {
  /** With its formulas worked out; nothing where it has problems. */
  readonly resolved: Document | undefined
  readonly problems: readonly Problem[]
  readonly cautions: readonly Problem[]
}

/** A document checked, its problems in words that people know the places by. */
export function judged(document: Document): Judgement {
  const checked = checkDocument(document)
  if (checked.kind === 'done') return { resolved: checked.value.resolved, problems: [], cautions: checked.value.cautions }
  return {
    resolved: undefined,
    problems: checked.problems.map((problem) => problemInWords(document, problem)),
    cautions: [],
  }
}
