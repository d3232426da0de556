import { useCallback, useEffect, useState } from 'react'
import { toast } from 'sonner'
import type { Problem } from '@calm-hand/core/document'

export interface KeptList<Item> {
  readonly items: readonly Item[] | undefined
  readonly failure: string | undefined
  /** Does something to what is kept, tells what went wrong, and asks for the list anew. */
  readonly after: (change: Promise<Problem | undefined>) => Promise<boolean>
}

/** A list that the server keeps, asked for when it is looked at. `ask` must be stable. */
export function useKept<Item>(ask: () => Promise<readonly Item[]>): KeptList<Item> {
  const [state, setState] = useState<Pick<KeptList<Item>, 'items' | 'failure'>>({ items: undefined, failure: undefined })
  const load = useCallback(
    () =>
      ask().then(
        (items) => setState({ items, failure: undefined }),
        (error: unknown) => setState({ items: undefined, failure: (error as Error).message }),
      ),
    [ask],
  )
  useEffect(() => void load(), [load])
  const after = async (change: Promise<Problem | undefined>) => {
    const problem = await change
    if (problem !== undefined) toast.error(`${problem.what} ${problem.remedy}`)
    await load()
    return problem === undefined
  }
  return { ...state, after }
}

export function moment(at: string): string {
  return new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
}

export function sizeInWords(bytes: number): string {
  return bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toPrecision(3)} MB`
}
