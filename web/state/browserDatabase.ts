import { openDB } from 'idb'
import type { DBSchema, IDBPDatabase } from 'idb'
import type { Document } from '@calm-hand/core/document'

export interface Step {
  readonly label: string
  /** The document before the step. */
  readonly before: Document
}

/** Text in a slot that is open and not yet taken. */
export interface Typing {
  readonly path: string
  readonly text: string
}

/** Work of one tab that the server has not confirmed, and its undo. */
export interface Draft {
  readonly project: string
  readonly tab: string
  readonly revision: number
  readonly document: Document
  readonly label: string
  /** Ids of saves that were sent and not answered: one of them may have been kept. */
  readonly attempts: readonly string[]
  readonly typing?: Typing
  /** The document is as the server has it: the draft is here for its letters only. */
  readonly isSaved?: boolean
  /** ms since 1970 */
  readonly at: number
}

export interface KeptHistory {
  readonly project: string
  readonly tab: string
  readonly past: readonly Step[]
  readonly future: readonly Step[]
  /** The content hash of the document that they lead to; missing in those of earlier versions. */
  readonly of?: string
  readonly at: number
}

/** A run that the server has not yet: its record in packed pieces. */
export interface WaitingRun {
  readonly project: string
  readonly hash: string
  readonly trial: string
  readonly madeAt: string
  readonly pieces: readonly Blob[]
  /** The document that made it and how its checks came out, as the server takes them; nothing of runs of earlier editions. */
  readonly made?: string
  /** How many of its first pieces the server has. */
  readonly delivered: number
  /** Why the server will not take it; it stays here. */
  readonly refused?: string
}

interface Schema extends DBSchema {
  drafts: { key: [string, string]; value: Draft; indexes: { project: string } }
  histories: { key: [string, string]; value: KeptHistory; indexes: { at: number } }
  runs: { key: [string, string]; value: WaitingRun; indexes: { project: string } }
}

let opening: Promise<IDBPDatabase<Schema>> | undefined

/** The browser's database; also in workers. Throws where the browser forbids it. */
export function browserDatabase(): Promise<IDBPDatabase<Schema>> {
  opening ??= openDB<Schema>('calm-hand', 1, {
    upgrade(database) {
      database.createObjectStore('drafts', { keyPath: ['project', 'tab'] }).createIndex('project', 'project')
      database.createObjectStore('histories', { keyPath: ['project', 'tab'] }).createIndex('at', 'at')
      database.createObjectStore('runs', { keyPath: ['project', 'hash'] }).createIndex('project', 'project')
    },
    terminated: () => (opening = undefined),
  }).catch((error: unknown) => {
    opening = undefined
    throw error
  })
  return opening
}

/** Forgets the opened database: for tests, which make each its own. */
export function forgetBrowserDatabase(): void {
  opening = undefined
}
