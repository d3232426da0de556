import type { Checked } from '@calm-hand/core'
import type { Document, Outcome } from '@calm-hand/core/document'
import { answerTo } from '../compute'

let asked = 0

/** A document beside the open project, checked away from the interface. */
export function judge(document: Document): Promise<Outcome<Checked>> {
  return answerTo({ name: 'checked', document, rest: [], subject: `beside ${++asked}`, lane: 'side', rank: 0 })
}
