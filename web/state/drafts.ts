import { contentHash } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { browserDatabase } from './browserDatabase'
import type { Draft, KeptHistory, Step } from './browserDatabase'
import { safeLocal } from './safeStorage'
import { endedTabs, knownTab, tabId } from './tab'

export interface FoundDrafts {
  /** What this tab left, over a reload. */
  readonly own: Draft | undefined
  /** What tabs left that have ended, newest first. */
  readonly left: readonly Draft[]
  /** What cannot be read, as text, so that a person may save it. */
  readonly damaged: readonly string[]
}

/** Undo steps that survive a reload, and ms that undo of another tab is kept. */
const keptSteps = 60
const historyMs = 7 * 86_400_000

/** Drafts of a project. What is damaged is taken out of the way and handed over; nothing where the browser keeps nothing. */
export async function readDrafts(project: string): Promise<FoundDrafts> {
  try {
    const database = await browserDatabase()
    const words = lastWords(project) // taken away only once there is a place to put them
    const kept = (await database.getAllFromIndex('drafts', 'project', project)) as (Draft | undefined)[]
    const isNewer = words !== undefined && !kept.some((one) => one?.tab === words.tab && one.at > words.at)
    if (isNewer) await database.put('drafts', words)
    const all: unknown[] = isNewer ? [...kept.filter((one) => one?.tab !== words.tab), words] : kept
    const damaged: string[] = []
    const whole: Draft[] = []
    for (const one of all) {
      if (isDraft(one)) whole.push(one)
      else {
        damaged.push(JSON.stringify(one, null, 2))
        await database.delete('drafts', [project, (one as Draft).tab])
      }
    }
    const mine = await tabId()
    const ended = await endedTabs(whole)
    return {
      own: whole.find(({ tab }) => tab === mine),
      left: whole.filter(({ tab }) => ended.has(tab)).sort((a, b) => b.at - a.at),
      damaged,
    }
  } catch {
    return { own: undefined, left: [], damaged: [] }
  }
}

const wordsKey = (project: string) => `calm-hand.lastWords.${project}`

/** What a page that closes has not yet had kept: at once, since nothing that takes a moment outlives it. */
export function sayLastWords(draft: Omit<Draft, 'tab' | 'at'>): void {
  const tab = knownTab()
  if (tab !== undefined) safeLocal.setItem(wordsKey(draft.project), JSON.stringify({ ...draft, tab, at: Date.now() }))
}

function lastWords(project: string): Draft | undefined {
  try {
    const said = JSON.parse(safeLocal.getItem(wordsKey(project)) ?? 'null') as unknown
    safeLocal.removeItem(wordsKey(project))
    return isDraft(said) ? said : undefined
  } catch {
    return undefined
  }
}

/** Keeps a draft; false where the browser did not. */
export async function writeDraft(draft: Omit<Draft, 'tab' | 'at'>): Promise<boolean> {
  try {
    const tab = await tabId()
    await (await browserDatabase()).put('drafts', { ...draft, tab, at: Date.now() })
    return true
  } catch {
    return false
  }
}

export async function dropDraft(project: string, tab?: string): Promise<void> {
  await quietly(async () => (await browserDatabase()).delete('drafts', [project, tab ?? (await tabId())]))
}

/** Undo belongs to the tab, and to the document that it was kept with: an older one would jump. */
export async function readHistory(project: string, document: Document): Promise<Pick<KeptHistory, 'past' | 'future'>> {
  try {
    const found = await (await browserDatabase()).get('histories', [project, await tabId()])
    const isOf = found?.of === undefined || found.of === contentHash(document)
    if (found !== undefined && isOf && [found.past, found.future].every(areSteps)) return found
  } catch {
    // undo begins anew
  }
  return { past: [], future: [] }
}

export async function writeHistory(
  project: string,
  { past, future, document }: Pick<KeptHistory, 'past' | 'future'> & { readonly document: Document },
): Promise<void> {
  await quietly(async () => {
    const database = await browserDatabase()
    const kept = { past: past.slice(-keptSteps), future: future.slice(-keptSteps), of: contentHash(document) }
    await database.put('histories', { ...kept, project, tab: await tabId(), at: Date.now() })
    for (const old of await database.getAllKeysFromIndex('histories', 'at', IDBKeyRange.upperBound(Date.now() - historyMs)))
      await database.delete('histories', old)
  })
}

/** Whether the pages could work with it: what is inside may have problems, but must be there. */
export function isDraft(value: unknown): value is Draft {
  const { tab, revision, document, label, attempts } = (value ?? {}) as Partial<Draft>
  return (
    typeof tab === 'string' &&
    Number.isInteger(revision) &&
    typeof label === 'string' &&
    Array.isArray(attempts) &&
    isWorkable(document)
  )
}

const groups = ['machines', 'loops', 'estimators', 'trials', 'tray'] as const

function isWorkable(document: unknown): document is Document {
  if (typeof document !== 'object' || document === null) return false
  return groups.every((group) => {
    const parts = (document as Record<string, unknown>)[group]
    return (
      typeof parts === 'object' &&
      parts !== null &&
      Object.values(parts).every((part) => typeof part === 'object' && part !== null)
    )
  })
}

function areSteps(steps: readonly Step[]): boolean {
  return Array.isArray(steps) && steps.every((step) => typeof step.label === 'string' && isWorkable(step.before))
}

/** What only spares work must not stop it. */
async function quietly(action: () => Promise<unknown>): Promise<void> {
  try {
    await action()
  } catch {
    // the draft's own outcome says whether the browser keeps anything
  }
}
