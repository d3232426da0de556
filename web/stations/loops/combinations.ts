import type { SeriesRole } from '../../chart'

/** The four ways to run a loop: each half alone, both, neither. */
export const combinations: readonly {
  readonly name: string
  readonly role: SeriesRole
  readonly feedback: boolean
  readonly feedforward: boolean
}[] = [
  { name: 'both', role: 'actual', feedback: true, feedforward: true },
  { name: 'feedback', role: 'prediction', feedback: true, feedforward: false },
  { name: 'feedforward', role: 'command', feedback: false, feedforward: true },
  { name: 'neither', role: 'disturbance', feedback: false, feedforward: false },
]
