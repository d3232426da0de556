import type { Document } from '@calm-hand/core/document'
import { designLoop, followingFigures } from '@calm-hand/core/tuning'
import type { FollowingFigures, ResponseFigures } from '@calm-hand/core/tuning'
import { answerOf, askedOf, stepFigures } from './asked'
import type { AskedFor, Halves } from './asked'
import { withWanted } from './loopView'
import type { Answered } from './loopView'

/** A loop run with some of its halves, and what its answer shows. */
export interface Way {
  readonly answer: Answered
  readonly figures: ResponseFigures
  readonly following: FollowingFigures
}

/** What is asked of a loop, answered with other halves of it; nothing where it has no design. */
export function ways(
  document: Document,
  loop: string,
  words: AskedFor,
  window: number,
  halves: readonly Halves[],
): readonly Way[] {
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return []
  const asked = askedOf(document, loop, words)
  return halves.map((one) => {
    const answer = answerOf(design.value, asked, window, one)
    return {
      answer: withWanted(answer, asked),
      figures: stepFigures(answer, asked),
      following: followingFigures(answer.t, answer.held, (t) => asked.motion(t)[0]),
    }
  })
}

/** The same asked of designs of other documents, each as it was designed; nothing for one that has none. */
export function earlier(
  document: Document,
  loop: string,
  words: AskedFor,
  window: number,
  documents: readonly Document[],
): readonly (Answered | undefined)[] {
  const asked = askedOf(document, loop, words)
  return documents.map((one) => {
    const design = designLoop(one, loop)
    if (design.kind === 'refused') return undefined
    const halves = { feedback: design.value.values.closed, feedforward: undefined }
    return withWanted(answerOf(design.value, asked, window, halves), asked)
  })
}
