import { create } from 'zustand'

/** Work that takes a while and can be cancelled: shown on every screen. */
export interface Work {
  readonly label: string
  /** 0 to 1, where it is known. */
  readonly share: number | undefined
  readonly cancel: () => void
}

export const useWork = create<{ readonly all: ReadonlyMap<number, Work> }>(() => ({ all: new Map() }))

let last = 0

/** Shows work until `end`; a person may cancel it, which `signal` tells. */
export function beginWork(label: string): { signal: AbortSignal; tell: (share: number) => void; end: () => void } {
  const id = ++last
  const cancelling = new AbortController()
  const put = (share: number | undefined) =>
    useWork.setState(({ all }) => ({ all: new Map([...all, [id, { label, share, cancel: () => cancelling.abort() }]]) }))
  put(undefined)
  return {
    signal: cancelling.signal,
    tell: put,
    end: () => useWork.setState(({ all }) => ({ all: new Map([...all].filter(([key]) => key !== id)) })),
  }
}
