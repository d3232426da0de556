import { checkDocument, problemInWords } from '@calm-hand/core'
import type { Checked } from '@calm-hand/core'
import { refused } from '@calm-hand/core/document'
import type { Document, Outcome, Problem } from '@calm-hand/core/document'

export interface Judgement {
  /** With its formulas worked out; nothing where it has problems. */
  readonly resolved: Document | undefined
  readonly problems: readonly Problem[]
  readonly cautions: readonly Problem[]
}

/** A document checked, its problems in words that people know the places by. */
export function checked(document: Document): Outcome<Checked> {
  const outcome = checkDocument(document)
  return outcome.kind === 'done' ? outcome : refused(outcome.problems.map((problem) => problemInWords(document, problem)))
}

/** The same of the document that is edited, which is shown with its problems. */
export function judged(document: Document): Judgement {
  const outcome = checked(document)
  if (outcome.kind === 'done') return { resolved: outcome.value.resolved, problems: [], cautions: outcome.value.cautions }
  return { resolved: undefined, problems: outcome.problems, cautions: [] }
}
