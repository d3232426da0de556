import { create } from 'zustand'
import { canonicalText, partAt, sharing } from '@calm-hand/core/document'
import type { Document, Part, Problem } from '@calm-hand/core/document'
import { answerTo, ask, forgetQuestions } from '../compute'
import type { Judgement } from '../compute/check'
import type { Draft, Step } from './browserDatabase'
import { dropDraft, readDrafts, readHistory, sayLastWords, writeDraft, writeHistory } from './drafts'
import type { Edit } from './edits'
import { NotGiven, createProject, fetchProject, saveProject } from './server'
import type { SaveAnswer, StoredProject } from './server'
import { onTyping, restoreTyping, typingNow } from './typing'

export type Saving =
  | { readonly kind: 'saved'; readonly at: string }
  | { readonly kind: 'saving' }
  | { readonly kind: 'away'; readonly what: string }
  | { readonly kind: 'notYet' }
  | { readonly kind: 'stale'; readonly theirs: StoredProject }
  /** The server will not take it, and sending it again would not help. */
  | { readonly kind: 'refused'; readonly why: Extract<SaveAnswer, { kind: 'refused' }>['why']; readonly what: string }

interface Project {
  readonly id: string
  /** As edited, problems and all. */
  readonly document: Document
  /** The last state without problems, its formulas worked out: what is computed and run. */
  readonly valid: Document
  /** Of which document `valid`, `problems` and `cautions` tell: that of a moment ago, while a newer one is looked at. */
  readonly judged: Document
  readonly problems: readonly Problem[]
  readonly cautions: readonly Problem[]
  readonly revision: number
  readonly saving: Saving
  readonly past: readonly Step[]
  readonly future: readonly Step[]
  /** The document when the gesture under way began. */
  readonly gesture: Document | undefined
  /** Saves that were sent and not answered, oldest first; the last one with what it sent. */
  readonly attempts: readonly string[]
  /** Whether this browser keeps what is not saved; false where its storage is full or forbidden. */
  readonly isKept: boolean
  /** Work that other tabs left behind, to be taken or let go. */
  readonly left: readonly Draft[]
  /** Drafts that cannot be read, as text. */
  readonly damaged: readonly string[]
}

interface ProjectStore {
  readonly project: Project | undefined
  /** Why it could not be opened; `passes` where it may open by itself later. */
  readonly failure: { readonly what: string; readonly passes: boolean } | undefined
}

export const useProject = create<ProjectStore>(() => ({ project: undefined, failure: undefined }))

/** The open project; for components below the station frame, where one is always open. */
export function useOpen<Value>(select: (project: Project) => Value): Value {
  return useProject((state) => select(state.project!))
}

/** A part of the open project as it is at that moment: for what is pressed long after it was drawn. */
export function partNow(path: string): Part {
  return partAt(useProject.getState().project!.document, path)!
}

/** The same of the document as it is when nothing is under the hand: for names and choices, which a drag does not change. */
export function useSettled<Value>(select: (document: Document) => Value): Value {
  return useOpen(({ gesture, document }) => select(gesture ?? document))
}

const saveAfterMs = 350
/** Letters typed into a slot are kept once the hand rests this long. */
const typingAfterMs = 150
/** A browser that takes longer than this to keep a draft does not hold up the save. */
const mostKeepingMs = 1000
/** Unanswered saves that are remembered. */
const mostAttempts = 20
const channel = new BroadcastChannel('calm-hand')
let saveTimer: number | undefined
let typingTimer: number | undefined
let sending = false
/** The last save that was sent: the same document sent again is the same save. */
let sentLast: { readonly id: string; readonly document: Document } | undefined

/** The project that is being opened: of two asked for the later one is. */
let opening: { readonly id: string } | undefined

export async function openProject(id: string): Promise<void> {
  if ((opening ?? useProject.getState().project)?.id === id) return
  const own = (opening = { id })
  forgetQuestions()
  useProject.setState({ project: undefined, failure: undefined })
  try {
    const [stored, drafts] = await Promise.all([fetchProject(id), readDrafts(id)])
    if (opening !== own) return
    // work of a tab that has ended goes on here; where several were left, a person says which
    const adopted = drafts.own === undefined && drafts.left.length === 1 ? drafts.left[0] : undefined
    const draft = drafts.own ?? adopted
    const left = drafts.left.filter((one) => one !== adopted)
    const document = draft === undefined || draft.isSaved === true ? stored.document : draft.document
    const { past, future } = await readHistory(id, document)
    const base = { id, past, future, gesture: undefined, isKept: true, left, damaged: drafts.damaged }
    const checked = await firstJudged(document, stored.document)
    if (opening !== own) return
    opening = undefined
    restoreTyping(draft?.typing)
    sentLast = undefined
    useProject.setState({ project: { ...base, document, ...checked, ...standing(draft, stored) } })
    if (adopted !== undefined) await moveDraft(adopted)
    else void keepDraft()
    if (useProject.getState().project?.saving.kind === 'notYet') scheduleSave()
  } catch (error) {
    if (opening !== own) return
    opening = undefined
    useProject.setState({ failure: { what: (error as Error).message, passes: error instanceof NotGiven && error.passes } })
  }
}

/** A document that is opened; what is shown of one with problems is what the server has. */
async function firstJudged(document: Document, stored: Document): Promise<JudgedState> {
  const looked = await judgement(document)
  const valid = looked.resolved ?? (document === stored ? undefined : (await judgement(stored)).resolved) ?? stored
  return told(document, looked, valid)
}

function judgement(document: Document): Promise<Judgement> {
  return answerTo({ name: 'judged', document, rest: [], subject: 'opening', lane: 'hand', rank: 0 })
}

/**
 * How a draft stands to what the server has. A save whose answer was lost may have been kept, and is then the draft's
 * ground; or it is still on its way and comes later: until an answer is heard, the ids of all of them are remembered.
 */
function standing(draft: Draft | undefined, stored: StoredProject): Pick<Project, 'revision' | 'saving' | 'attempts'> {
  const saved = { revision: stored.revision, saving: { kind: 'saved', at: stored.savedAt }, attempts: [] } as const
  if (draft === undefined || draft.isSaved === true) return saved
  const { attempts } = draft
  const isSettled = attempts.length === 0 || stored.saveId === attempts.at(-1)
  if (isSettled && canonicalText(draft.document) === canonicalText(stored.document)) return saved
  const isOwn = typeof stored.saveId === 'string' && attempts.includes(stored.saveId)
  if (draft.revision === stored.revision || isOwn) return { revision: stored.revision, saving: { kind: 'notYet' }, attempts }
  return { revision: draft.revision, saving: { kind: 'stale', theirs: stored }, attempts }
}

async function moveDraft(from: Draft): Promise<void> {
  if (await keepDraft()) await dropDraft(from.project, from.tab)
}

/** Takes up work that another tab left, as one step of undo. */
export function takeLeft(draft: Draft): void {
  edit({ label: 'Take what another tab left', apply: () => draft.document })
  letGo(draft)
}

/** Lets work go that another tab left. */
export function letGo(draft: Draft): void {
  void dropDraft(draft.project, draft.tab)
  update((project) => ({ ...project, left: project.left.filter((one) => one !== draft) }))
}

export function forgetDamaged(): void {
  update((project) => ({ ...project, damaged: [] }))
}

/** A project that is gone from the server is put there again, as it is here. */
export async function putBack(): Promise<void> {
  const { project } = useProject.getState()
  if (project === undefined) return
  const made = await createProject(project.id, project.document)
  if (made.kind === 'refused') {
    const [problem] = made.problems
    return update((one) => ({ ...one, saving: { kind: 'refused', why: 'gone', what: `${problem!.what} ${problem!.remedy}` } }))
  }
  update((one) => ({ ...one, revision: 1, attempts: [], saving: { kind: 'notYet' } }))
  scheduleSave(0)
}

/** Makes an edit: one step of undo. Inside a gesture it ends the gesture. */
export function edit({ label, apply }: Edit): void {
  update((project) => {
    const before = project.gesture ?? project.document
    const document = apply(before)
    return { ...project, document, gesture: undefined, past: [...project.past, { label, before }], future: [] }
  })
  look()
  keep()
}

/** Shows an edit while it is under the hand; nothing is saved or put into the history until `edit` or `cancel`. */
export function preview({ apply }: Edit): void {
  update((project) => {
    const from = project.gesture ?? project.document
    const document = apply(from)
    return { ...project, document, gesture: from }
  })
  look()
}

/** Ends a gesture and restores what was there before. */
export function cancel(): void {
  update((project) => (project.gesture === undefined ? project : { ...project, document: project.gesture, gesture: undefined }))
  look()
}

export function undo(): void {
  update((project) => {
    const step = project.past.at(-1)
    if (step === undefined) return project
    const future = [...project.future, { label: step.label, before: project.document }]
    return {
      ...project,
      document: step.before,
      gesture: undefined,
      past: project.past.slice(0, -1),
      future,
    }
  })
  look()
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
      gesture: undefined,
      past,
      future: project.future.slice(0, -1),
    }
  })
  look()
  keep()
}

/** After another tab saved: put this tab's work on top of it. Theirs stays in the history of revisions. */
export function keepMine(): void {
  update((project) =>
    project.saving.kind === 'stale'
      ? { ...project, revision: project.saving.theirs.revision, attempts: [], saving: { kind: 'notYet' } }
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
    void writeHistory(project.id, { past, future: [], document: theirs.document })
    return {
      ...project,
      attempts: [],
      document: theirs.document,
      revision: theirs.revision,
      saving: { kind: 'saved', at: theirs.savedAt },
      past,
      future: [],
    }
  })
  look()
  void keepDraft()
}

type JudgedState = Pick<Project, 'valid' | 'judged' | 'problems' | 'cautions'>

/** What a look at a document tells; what was valid stays where it has problems, and what did not change stays the same part. */
function told(document: Document, { resolved, problems, cautions }: Judgement, lastValid: Document): JudgedState {
  return { valid: resolved === undefined ? lastValid : sharing(resolved, lastValid), judged: document, problems, cautions }
}

/** Has the document checked as it is now; during a drag the last answer stays until the next one. */
function look(): void {
  const { project } = useProject.getState()
  if (project === undefined) return
  const { id, document } = project
  if (document === project.judged) return
  const tell = (found: Judgement) => {
    update((one) => (one.id === id ? { ...one, ...told(document, found, one.valid) } : one))
    // meanwhile it may have become another one, or again the one that was looked at before
    look()
  }
  ask({
    ...{ name: 'judged', document, rest: [], subject: 'judged', lane: 'hand', rank: 0 },
    onAnswer: tell,
    onFailure: (what) => tell({ resolved: undefined, problems: [brokenOff(what)], cautions: [] }),
  })
}

/** The open project once it is known whether its document as it is now has problems; nothing where it was left meanwhile. */
export function lookedAt(id: string): Promise<Project | undefined> {
  const found = () => {
    const { project } = useProject.getState()
    if (project?.id !== id) return { project: undefined }
    return project.judged === project.document ? { project } : undefined
  }
  const now = found()
  if (now !== undefined) return Promise.resolve(now.project)
  return new Promise((resolve) => {
    const leave = useProject.subscribe(() => {
      const later = found()
      if (later === undefined) return
      leave()
      resolve(later.project)
    })
  })
}

function brokenOff(what: string): Problem {
  return {
    where: 'title',
    what: `The project could not be checked: ${what}`,
    remedy: 'Undo the last edit, or load the page anew.',
  }
}

function update(change: (project: Project) => Project): void {
  useProject.setState(({ project }) => ({ project: project === undefined ? undefined : change(project) }))
}

/** Keeps the work in this browser at once, and has it saved soon. */
function keep(): void {
  const { project } = useProject.getState()
  if (project === undefined) return
  if (project.saving.kind !== 'stale') {
    update((one) => ({ ...one, saving: { kind: 'notYet' } }))
    scheduleSave()
  }
  void keepDraft()
  void writeHistory(project.id, project)
}

let keeping: Promise<boolean> | undefined
let keepAgain = false

/** Has the browser keep what the server has not, as it is now, one write at a time; whether it does. Nothing once all is saved. */
function keepDraft(): Promise<boolean> {
  keepAgain = true
  keeping ??= (async () => {
    let isKept = true
    while (keepAgain) {
      keepAgain = false
      const { project } = useProject.getState()
      if (project === undefined) break
      const { id } = project
      const draft = draftOf(project)
      if (draft.isSaved && draft.typing === undefined) {
        await dropDraft(id)
        continue
      }
      isKept = await writeDraft(draft)
      if (useProject.getState().project?.id === id && useProject.getState().project?.isKept !== isKept)
        update((one) => ({ ...one, isKept }))
    }
    keeping = undefined
    return isKept
  })()
  return keeping
}

function draftOf({ id, revision, document, gesture, attempts, past, saving }: Project) {
  const typing = typingNow()
  return {
    ...{ project: id, revision, attempts, isSaved: saving.kind === 'saved', label: past.at(-1)?.label ?? 'Edit' },
    // what is under the hand is not yet work: its slot's text is kept beside
    document: gesture ?? document,
    ...(typing === undefined ? {} : { typing }),
  }
}

onTyping(() => {
  window.clearTimeout(typingTimer)
  typingTimer = window.setTimeout(() => {
    typingTimer = undefined
    void keepDraft()
  }, typingAfterMs)
})

window.addEventListener('pagehide', () => {
  const { project } = useProject.getState()
  if (project !== undefined && (keeping !== undefined || typingTimer !== undefined)) sayLastWords(draftOf(project))
})

function scheduleSave(afterMs = saveAfterMs): void {
  window.clearTimeout(saveTimer)
  saveTimer = window.setTimeout(() => void save(), afterMs)
}

async function save(): Promise<void> {
  const { project } = useProject.getState()
  if (project === undefined || project.gesture !== undefined || project.saving.kind === 'stale') return
  if (sending || project.judged !== project.document) return scheduleSave()
  if (project.problems.length > 0) return
  sending = true
  const sent = project.document
  const id = sentLast?.document === sent ? sentLast.id : crypto.randomUUID()
  const follows = project.attempts.filter((one) => one !== id)
  sentLast = { id, document: sent }
  update((one) => ({
    ...one,
    attempts: [...follows, id].slice(-mostAttempts),
    saving: one.saving.kind === 'away' ? one.saving : { kind: 'saving' },
  }))
  // the browser knows the id before the server does: a page that closes now finds its own save there, not a stranger's
  await Promise.race([keepDraft(), new Promise((resolve) => window.setTimeout(resolve, mostKeepingMs))])
  const label = project.past.at(-1)?.label ?? 'Edit'
  const answer = await saveProject(project.id, { revision: project.revision, document: sent, label, save: id, follows })
  sending = false
  // another project is open meanwhile: this one's draft knows the id, and is told when it is opened again
  if (useProject.getState().project?.id !== project.id) return
  switch (answer.kind) {
    case 'saved': {
      const still = useProject.getState().project!
      const unchanged = (still.gesture ?? still.document) === sent
      update((one) => ({
        ...one,
        revision: answer.revision,
        attempts: [],
        saving: unchanged ? { kind: 'saved', at: answer.savedAt } : { kind: 'notYet' },
      }))
      channel.postMessage({ id: project.id, revision: answer.revision })
      if (unchanged) await keepDraft()
      else keep()
      return
    }
    case 'stale':
      return update((one) => ({ ...one, saving: { kind: 'stale', theirs: answer.current } }))
    case 'away':
      update((one) => ({ ...one, saving: { kind: 'away', what: answer.what } }))
      return scheduleSave(answer.againMs)
    case 'refused': {
      const [problem] = answer.problems
      const what = problem === undefined ? 'The server does not take it.' : `${problem.what} ${problem.remedy}`
      const problems = answer.why === 'document' ? { problems: answer.problems } : {}
      return update((one) => ({ ...one, ...problems, saving: { kind: 'refused', why: answer.why, what } }))
    }
    default:
      return answer satisfies never
  }
}

// another tab saved this project: this one is told at once, not only when it tries to save
channel.onmessage = (message: MessageEvent<{ id: string; revision: number }>) => {
  const { project } = useProject.getState()
  if (project === undefined || project.id !== message.data.id || message.data.revision <= project.revision) return
  void fetchProject(project.id).then((theirs) => {
    const now = useProject.getState().project
    const isOwn = typeof theirs.saveId === 'string' && (now?.attempts.includes(theirs.saveId) ?? false)
    if (now?.id === theirs.id && theirs.revision > now.revision && !isOwn)
      update((one) => ({ ...one, saving: { kind: 'stale', theirs } }))
  })
}
