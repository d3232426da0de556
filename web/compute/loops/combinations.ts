import type { SeriesRole } from '../../chart'
import type { Halves } from './asked'

/** The four ways to run a loop: each half alone, both, neither. */
export const combinations: readonly ({ readonly name: string; readonly role: SeriesRole } & Halves)[] = [
  { name: 'both', role: 'actual', feedback: true, feedforward: true },
  { name: 'feedback', role: 'prediction', feedback: true, feedforward: false },
  { name: 'feedforward', role: 'command', feedback: false, feedforward: true },
  { name: 'neither', role: 'disturbance', feedback: false, feedforward: false },
]

/** What is asked of all four. */
export const fourHalves: readonly Halves[] = combinations.map(({ feedback, feedforward }) => ({ feedback, feedforward }))
