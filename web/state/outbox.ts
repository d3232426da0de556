import { create } from 'zustand'
import { browserDatabase } from './browserDatabase'
import type { WaitingRun } from './browserDatabase'
import { sendMade, sendPiece } from './server'

/** Runs of this browser that the server has not yet, and one that it will not take. */
interface Outbox {
  readonly waiting: number
  readonly refused: string | undefined
}

export const useOutbox = create<Outbox>(() => ({ waiting: 0, refused: undefined }))

const lock = 'calm-hand.outbox'
let delivering = false

/** Delivers what waits, one piece after the other, for as long as it takes; one tab does so for all. */
export async function deliverRuns(): Promise<void> {
  if (delivering) return
  delivering = true
  try {
    await alone(async () => {
      for (let run = await next(); run !== undefined; run = await next()) await deliver(run)
    })
  } catch {
    // the browser's storage is closed: there is nothing to deliver from
  } finally {
    delivering = false
  }
}

/** Runs of a project that wait here. */
export async function waitingRuns(project: string): Promise<readonly WaitingRun[]> {
  try {
    return await (await browserDatabase()).getAllFromIndex('runs', 'project', project)
  } catch {
    return []
  }
}

async function next(): Promise<WaitingRun | undefined> {
  const all = await (await browserDatabase()).getAll('runs')
  const waiting = all.filter(({ refused }) => refused === undefined)
  useOutbox.setState({ waiting: waiting.length, refused: all.find(({ refused }) => refused !== undefined)?.refused })
  return waiting[0]
}

async function deliver(run: WaitingRun): Promise<void> {
  const database = await browserDatabase()
  const key: [string, string] = [run.project, run.hash]
  for (let number = run.delivered; ;) {
    const answer = await sendPiece(run.project, run.hash, number, run.pieces[number]!)
    switch (answer.kind) {
      case 'away':
        await new Promise((resolve) => setTimeout(resolve, answer.againMs))
        continue
      case 'first':
        number = 0
        break
      case 'refused':
        await database.put('runs', { ...run, refused: answer.what })
        return
      case 'taken':
        if (answer.complete) {
          // what the server does not take of this is of no use here either
          const againMs = run.made === undefined ? undefined : await sendMade(run.project, run.hash, run.made)
          if (againMs === undefined) return database.delete('runs', key)
          await new Promise((resolve) => setTimeout(resolve, againMs))
          continue
        }
        // all sent and still not whole: the server lost some, so all are sent again
        number = number + 1 < run.pieces.length ? number + 1 : 0
        await database.put('runs', { ...run, delivered: number })
        break
      default:
        answer satisfies never
    }
  }
}

async function alone(work: () => Promise<void>): Promise<void> {
  if (typeof navigator === 'undefined' || navigator.locks === undefined) return work()
  await navigator.locks.request(lock, work)
}
