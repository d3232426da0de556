import { QueryClient, useInfiniteQuery, useQuery } from '@tanstack/react-query'
import { toast } from 'sonner'
import type { Document, Problem } from '@calm-hand/core/document'
import { judge } from './judge'
import { fetchBin, fetchHistory, fetchMade, fetchProjects, fetchRuns, fetchState } from './server'
import type { KeptRun, KeptState } from './server'

/**
 * What the server keeps, as the page last heard it: shown at once where it is known, asked for anew whenever somebody begins to
 * look, tried again before it is told that the server does not answer.
 */
export const kept = new QueryClient({
  defaultOptions: {
    // the server is on loopback or near: a browser that thinks it is offline may reach it all the same
    queries: { networkMode: 'always', refetchOnMount: 'always', refetchOnWindowFocus: false, retry: 1, retryDelay: 400 },
  },
})

const projectsKey = ['projects'] as const

export function useStoredProjects() {
  return useQuery({ queryKey: projectsKey, queryFn: fetchProjects }, kept)
}

export function useBin() {
  return useQuery({ queryKey: ['bin'], queryFn: fetchBin }, kept)
}

export function useKeptRuns(project: string) {
  return useQuery({ queryKey: ['runs', project], queryFn: () => fetchRuns(project) }, kept)
}

/** The document that made a run; it never changes. */
export function useMade(project: string, { hash, isMade }: Pick<KeptRun, 'hash' | 'isMade'>) {
  const asked = { queryKey: ['made', project, hash], queryFn: () => fetchMade(project, hash), enabled: isMade }
  return useQuery({ ...asked, staleTime: Infinity, refetchOnMount: false }, kept)
}

/** A saved state of a project, once somebody wants it; it never changes. */
export function useSavedState(project: string, number: number | undefined) {
  const asked = {
    queryKey: ['state', project, number],
    queryFn: () => fetchState(project, number!),
    enabled: number !== undefined,
  }
  return useQuery({ ...asked, staleTime: Infinity, refetchOnMount: false }, kept)
}

/** Saved states, a page at a time, the newest first. */
export function useSavedStates(project: string) {
  return useInfiniteQuery(
    {
      queryKey: ['states', project],
      queryFn: ({ pageParam }) => fetchHistory(project, pageParam),
      initialPageParam: undefined as number | undefined,
      getNextPageParam: (page: readonly KeptState[]) => {
        const oldest = page.at(-1)?.number
        return oldest === undefined || oldest === 1 ? undefined : oldest
      },
    },
    kept,
  )
}

export interface ShelfProject {
  readonly id: string
  /** With its formulas worked out. */
  readonly document: Document
}

/** All machines of the yard whose parts others may take; asked for while somebody looks (`wanted`), else as it was last heard. */
export function useShelf(wanted: boolean) {
  return useQuery({ queryKey: [...projectsKey, 'shelf'], queryFn: fetchShelf, enabled: wanted }, kept)
}

async function fetchShelf(): Promise<readonly ShelfProject[]> {
  const shelf = await Promise.all(
    (await fetchProjects()).map(async ({ id, document }) => {
      const judged = await judge(document)
      return judged.kind === 'done' ? [{ id, document: judged.value.resolved }] : []
    }),
  )
  return shelf.flat()
}

/** Has all that is looked at asked for anew. */
export async function askAnew(): Promise<void> {
  await kept.invalidateQueries()
}

/** Waits for a change of what the server keeps, tells what went wrong, and has all that is looked at asked for anew; whether it was done. */
export async function afterChange(change: Promise<Problem | undefined>): Promise<boolean> {
  const problem = await change
  if (problem !== undefined) toast.error(`${problem.what} ${problem.remedy}`)
  await askAnew()
  return problem === undefined
}
