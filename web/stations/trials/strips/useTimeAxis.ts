import { useMemo } from 'react'
import type { Part } from '@calm-hand/core/document'
import { niceTicks } from '../../../chart'
import type { Axis } from '../../../chart'
import { useClock } from '../../../state/clock'

/** The time that a strip shows: as its sentence says, else as a person came closer, else all of the run. */
export function useTimeAxis(end: number, watch?: Part): Axis {
  const window = useClock((clock) => clock.window)
  const said = watch?.from !== undefined || watch?.to !== undefined
  const [from, to] = said ? windowOf(watch as Window, end) : (window ?? [0, end])
  return useMemo(() => ({ domain: [from, to], ticks: niceTicks(from, to, 8), label: 'time, s' }), [from, to])
}

/** The part of a run that a watch says, s. */
export interface Window {
  readonly from?: number
  readonly to?: number
}

/** s, what a watch says of the run; all of it where that is no part of it. */
export function windowOf({ from = 0, to = Infinity }: Window, end: number): [number, number] {
  const last = Math.min(to, end)
  return from < last ? [from, last] : [0, end]
}
