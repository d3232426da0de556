import type { TrialView } from './useTrialView'

/** A signal over a window of the run, as panels below the view ask for it. */
export interface SignalOverTime {
  readonly signal: string
  readonly from: number
  readonly to: number
}

/** What is asked first: what the loop holds, or what is watched or recorded first, over the whole run. */
export function firstWindow({ held, machineName, watched, end, record }: TrialView): SignalOverTime {
  const other = watched[0]?.name ?? record?.columns[0]?.name ?? ''
  const signal = held === undefined ? other : `${machineName}.${held.quantity.name}`
  return { signal, from: 0, to: Number(end.toFixed(3)) }
}
