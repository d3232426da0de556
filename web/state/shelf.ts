import { useEffect } from 'react'
import { create } from 'zustand'
import { checkDocument } from '@calm-hand/core'
import type { Document } from '@calm-hand/core/document'
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
    const projects = stored.flatMap(({ id, document }) => {
      const checked = checkDocument(document)
      return checked.kind === 'done' ? [{ id, document: checked.value.resolved }] : []
    })
    useShelfStore.setState({ projects, failure: undefined })
  } catch (error) {
    useShelfStore.setState({ failure: (error as Error).message })
  }
}
