import { atan2, sqrt } from '../expression'
import type { Placement } from '../algebra'

export interface FrameBetween {
  /** m, between the origins. */
  readonly distance: number
  /** m, where the second origin lies in the axes of the first. */
  readonly along: readonly [number, number, number]
  /** rad, 0 to pi: the one turn that brings the axes of the first to those of the second. */
  readonly angle: number
}

/** How one frame lies in another. Both in the same axes, as numbers. */
export function frameBetween(first: Placement, second: Placement): FrameBetween {
  const [a, b] = [first.rotation, second.rotation] as unknown as [number[][], number[][]]
  const gap = second.position.map((value, i) => (value as number) - (first.position[i] as number))
  const along = [0, 1, 2].map((k) => gap.reduce((sum, value, i) => sum + a[i]![k]! * value, 0)) as [number, number, number]
  const relative = [0, 1, 2].map((i) => [0, 1, 2].map((j) => [0, 1, 2].reduce((sum, k) => sum + a[k]![i]! * b[k]![j]!, 0)))
  // sin from the skew part, cos from the trace: exact for small turns and for half turns
  const skew = [relative[2]![1]! - relative[1]![2]!, relative[0]![2]! - relative[2]![0]!, relative[1]![0]! - relative[0]![1]!]
  const trace = relative[0]![0]! + relative[1]![1]! + relative[2]![2]!
  return { distance: length(gap), along, angle: atan2(length(skew), trace - 1) }
}

function length(vector: readonly number[]): number {
  return sqrt(vector.reduce((sum, value) => sum + value * value, 0))
}
