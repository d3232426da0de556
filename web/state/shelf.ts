import { useEffect } from 'react'
import { create } from 'zustand'
import type { Document } from '@calm-hand/core/document'
import { judge } from './judge'
import { fetchProjects } from './server'

export interface ShelfProject {
  readonly id: string
  /** With its formulas worked out. */
  readonly document: Document
}

interface Shelf {
  readonly projects: readonly ShelfProject[] | undefined
  readonly failure: string | undefined
}

/** All machines of the yard, whose parts others may take. Fetched when someone looks. */
const useShelfStore = create<Shelf>(() => ({ projects: undefined, failure: undefined }))

/** The shelf; asks for it anew each time someone begins to look (`wanted`). */
export function useShelf(wanted: boolean): Shelf {
  const shelf = useShelfStore()
  useEffect(() => {
    if (wanted) void loadShelf()
  }, [wanted])
  return shelf
}

async function loadShelf(): Promise<void> {
  try {
    const stored = await fetchProjects()
    const projects = await Promise.all(
      stored.map(async ({ id, document }) => {
        const judged = await judge(document)
        return judged.kind === 'done' ? [{ id, document: judged.value.resolved }] : []
      }),
    )
    useShelfStore.setState({ projects: projects.flat(), failure: undefined })
  } catch (error) {
    useShelfStore.setState({ failure: (error as Error).message })
  }
}
