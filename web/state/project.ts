import { create } from 'zustand'
import { checkDocument } from '@calm-hand/core'
import type { Document, Problem } from '@calm-hand/core/document'
import { readDraft, readHistory, writeDraft, writeHistory } from './drafts'
import type { Step } from './drafts'
import type { Edit } from './edits'
import { fetchProject, saveProject } from './server'
import type { StoredProject } from './server'

export type Saving =
  | { readonly kind: 'saved'; readonly at: string }
  | { readonly kind: 'saving' }
  | { readonly kind: 'away'; readonly what: string }
  | { readonly kind: 'notYet' }
  | { readonly kind: 'stale'; readonly theirs: StoredProject }

interface Project {
  readonly id: string
  /** As edited, problems and all. */
  readonly document: Document
  /** The last state without problems, its formulas worked out: what is computed and run. */
  readonly valid: Document
  readonly problems: readonly Problem[]
  readonly cautions: readonly Problem[]
  readonly revision: number
  readonly saving: Saving
  readonly past: readonly Step[]
  readonly future: readonly Step[]
  /** The document when the gesture under way began. */
  readonly gesture: Document | undefined
}

interface ProjectStore {
  readonly project: Project | undefined
  readonly failure: string | undefined
}

export const useProject = create<ProjectStore>(() => ({ project: undefined, failure: undefined }))

/** The open project; for components below the station frame, where one is always open. */
export function useOpen<Value>(select: (project: Project) => Value): Value {
  return useProject((state) => select(state.project!))
}

const saveAfterMs = 350
const retryAfterMs = 1500
const channel = new BroadcastChannel('calm-hand')
let saveTimer: number | undefined
let sending = false

export async function openProject(id: string): Promise<void> {
  if (useProject.getState().project?.id === id) return
  useProject.setState({ project: undefined, failure: undefined })
  try {
    const stored = await fetchProject(id)
    const draft = readDraft(id)
    const { past, future } = readHistory(id)
    const document = draft?.document ?? stored.document
    const base = { id, past, future, gesture: undefined, revision: stored.revision }
    const checked = judged(document, judged(stored.document, stored.document).valid)
    const saving: Saving =
      draft === undefined
        ? { kind: 'saved', at: stored.savedAt }
        : draft.revision === stored.revision
          ? { kind: 'notYet' }
          : { kind: 'stale', theirs: stored }
    useProject.setState({ project: { ...base, document, ...checked, saving } })
    if (saving.kind === 'notYet') scheduleSave()
  } catch (error) {
    useProject.setState({ failure: (error as Error).message })
  }
}

/** Makes an edit: one step of undo. Inside a gesture it ends the gesture. */
export function edit({ label, apply }: Edit): void {
  update((project) => {
    const before = project.gesture ?? project.document
    const document = apply(before)
    return {
      ...project,
      document,
      ...judged(document, project.valid),
      gesture: undefined,
      past: [...project.past, { label, before }],
      future: [],
    }
  })
  keep()
}

/** Shows an edit while it is under the hand; nothing is saved or put into the history until `edit` or `cancel`. */
export function preview({ apply }: Edit): void {
  update((project) => {
    const from = project.gesture ?? project.document
    const document = apply(from)
    return { ...project, document, ...judged(document, project.valid), gesture: from }
  })
}

/** Ends a gesture and restores what was there before. */
export function cancel(): void {
  update((project) =>
    project.gesture === undefined
      ? project
      : { ...project, document: project.gesture, ...judged(project.gesture, project.valid), gesture: undefined },
  )
}

export function undo(): void {
  update((project) => {
    const step = project.past.at(-1)
    if (step === undefined) return project
    const future = [...project.future, { label: step.label, before: project.document }]
    return {
      ...project,
      document: step.before,
      ...judged(step.before, project.valid),
      gesture: undefined,
      past: project.past.slice(0, -1),
      future,
    }
  })
  keep()
}

export function redo(): void {
  update((project) => {
    const step = project.future.at(-1)
    if (step === undefined) return project
    const past = [...project.past, { label: step.label, before: project.document }]
    return {
      ...project,
      document: step.before,
      ...judged(step.before, project.valid),
      gesture: undefined,
      past,
      future: project.future.slice(0, -1),
    }
  })
  keep()
}

/** After another tab saved: put this tab's work on top of it. Theirs stays in the history of revisions. */
export function keepMine(): void {
  update((project) =>
    project.saving.kind === 'stale'
      ? { ...project, revision: project.saving.theirs.revision, saving: { kind: 'notYet' } }
      : project,
  )
  keep()
}

/** After another tab saved: show what it saved. This tab's work becomes one step of undo. */
export function takeTheirs(): void {
  update((project) => {
    if (project.saving.kind !== 'stale') return project
    const { theirs } = project.saving
    const past = [...project.past, { label: 'Take what was saved elsewhere', before: project.document }]
    writeDraft(project.id, undefined)
    return {
      ...project,
      document: theirs.document,
      ...judged(theirs.document, theirs.document),
      revision: theirs.revision,
      saving: { kind: 'saved', at: theirs.savedAt },
      past,
      future: [],
    }
  })
}

function judged(document: Document, lastValid: Document): Pick<Project, 'valid' | 'problems' | 'cautions'> {
  const checked = checkDocument(document)
  if (checked.kind === 'done') return { valid: checked.value.resolved, problems: [], cautions: checked.value.cautions }
  return { valid: lastValid, problems: checked.problems, cautions: [] }
}

function update(change: (project: Project) => Project): void {
  useProject.setState(({ project }) => ({ project: project === undefined ? undefined : change(project) }))
}

/** Keeps the work in this browser at once, and has it saved soon. */
function keep(): void {
  const { project } = useProject.getState()
  if (project === undefined) return
  writeDraft(project.id, { revision: project.revision, document: project.document, label: project.past.at(-1)?.label ?? 'Edit' })
  writeHistory(project.id, project)
  if (project.saving.kind === 'stale') return
  update((one) => ({ ...one, saving: { kind: 'notYet' } }))
  scheduleSave()
}

function scheduleSave(afterMs = saveAfterMs): void {
  window.clearTimeout(saveTimer)
  saveTimer = window.setTimeout(() => void save(), afterMs)
}

async function save(): Promise<void> {
  const { project } = useProject.getState()
  if (project === undefined || project.problems.length > 0 || project.gesture !== undefined || project.saving.kind === 'stale')
    return
  if (sending) return scheduleSave()
  sending = true
  const sent = project.document
  if (project.saving.kind !== 'away') update((one) => ({ ...one, saving: { kind: 'saving' } }))
  const answer = await saveProject(project.id, project.revision, sent, project.past.at(-1)?.label ?? 'Edit')
  sending = false
  if (useProject.getState().project?.id !== project.id) return
  switch (answer.kind) {
    case 'saved': {
      const still = useProject.getState().project!
      const unchanged = still.document === sent
      update((one) => ({
        ...one,
        revision: answer.revision,
        saving: unchanged ? { kind: 'saved', at: answer.savedAt } : { kind: 'notYet' },
      }))
      channel.postMessage({ id: project.id, revision: answer.revision })
      if (unchanged) writeDraft(project.id, undefined)
      else keep()
      return
    }
    case 'stale':
      return update((one) => ({ ...one, saving: { kind: 'stale', theirs: answer.current } }))
    case 'away':
      update((one) => ({ ...one, saving: { kind: 'away', what: answer.what } }))
      return scheduleSave(retryAfterMs)
    case 'refused':
      return update((one) => ({ ...one, problems: answer.problems, saving: { kind: 'notYet' } }))
    default:
      return answer satisfies never
  }
}

// another tab saved this project: this one is told at once, not only when it tries to save
channel.onmessage = (message: MessageEvent<{ id: string; revision: number }>) => {
  const { project } = useProject.getState()
  if (project === undefined || project.id !== message.data.id || message.data.revision <= project.revision) return
  void fetchProject(project.id).then((theirs) => {
    if (theirs.revision > (useProject.getState().project?.revision ?? Infinity))
      update((one) => ({ ...one, saving: { kind: 'stale', theirs } }))
  })
}
