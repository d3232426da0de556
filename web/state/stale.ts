import type { Document } from '@calm-hand/core/document'
import { useAnswer } from '../compute'

/** What the course tells follows once a drag stands still, and after what the station shows. */
export const afterTheStation = { lane: 'side', rank: 3, settleMs: 150 } as const

/** Loops whose typed gains no longer give what they were made for; nothing before that is known. */
export function useStaleLoops(document: Document) {
  return useAnswer('stale', document, [], afterTheStation).answer
}
