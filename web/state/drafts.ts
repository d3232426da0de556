import type { Document } from '@calm-hand/core/document'

/** Work that the server has not confirmed, kept in this browser so that a reload or a crash loses nothing. */
export interface Draft {
  readonly revision: number
  readonly document: Document
  readonly label: string
}

export interface Step {
  readonly label: string
  /** The document before the step. */
  readonly before: Document
}

export interface History {
  readonly past: readonly Step[]
  readonly future: readonly Step[]
}

const draftKey = (id: string) => `calm-hand.draft.${id}`
const historyKey = (id: string) => `calm-hand.history.${id}`
/** Undo steps that survive a reload; the session's storage holds about 5 MB. */
const keptSteps = 60

export function readDraft(id: string): Draft | undefined {
  return parsed(localStorage.getItem(draftKey(id))) as Draft | undefined
}

export function writeDraft(id: string, draft: Draft | undefined): void {
  if (draft === undefined) localStorage.removeItem(draftKey(id))
  else quietly(() => localStorage.setItem(draftKey(id), JSON.stringify(draft)))
}

/** Undo belongs to the tab, so it is kept with the tab's session. */
export function readHistory(id: string): History {
  return (parsed(sessionStorage.getItem(historyKey(id))) as History | undefined) ?? { past: [], future: [] }
}

export function writeHistory(id: string, { past, future }: History): void {
  quietly(() =>
    sessionStorage.setItem(historyKey(id), JSON.stringify({ past: past.slice(-keptSteps), future: future.slice(-keptSteps) })),
  )
}

function parsed(text: string | null): unknown {
  try {
    return text === null ? undefined : (JSON.parse(text) as unknown)
  } catch {
    return undefined
  }
}

/** A full or forbidden storage must not stop the work: the server still saves it. */
function quietly(action: () => void): void {
  try {
    action()
  } catch {
    // nothing to do
  }
}
