import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { keepUp, startTemporaryDatabase } from '../database.mjs'
import { supervise } from '../supervise.mjs'

/** The app as `npm start` runs it, on a cluster of its own. */
export interface Besieged {
  readonly url: string
  readonly databaseUrl: () => string
  readonly killServer: () => void
  readonly killDatabase: () => void
  /** Most memory that the server has had since its last start, bytes. */
  readonly serverMemory: () => number
  /** ms until the app answers again; nothing where it does not within a minute. */
  readonly back: () => Promise<number | undefined>
  readonly close: () => Promise<void>
}

const root = join(import.meta.dirname, '../..')
const longestMs = 60_000

export async function besiege(): Promise<Besieged> {
  const database = await startTemporaryDatabase()
  const leaveAlone = keepUp(database, () => undefined)
  let [ended, listening]: (() => void)[] = [() => undefined, () => undefined]
  const end = new Promise<void>((resolve) => (ended = resolve))
  const start = new Promise<void>((resolve) => (listening = resolve))
  let port = 0
  const web = join(root, 'web', 'dist')
  const server = await supervise(
    {
      ...process.env,
      ...{ DATABASE_URL: undefined, DATABASE_FILE: database.addressFile, PORT: '0', LOG_LEVEL: 'fatal' },
      ...(existsSync(web) ? { WEB_FOLDER: web } : {}),
    },
    {
      onListening: (found) => {
        port = found
        listening!()
      },
      onEnd: () => ended!(),
    },
  )
  await start
  const url = `http://127.0.0.1:${port}`
  return {
    url,
    databaseUrl: () => database.url,
    killServer: () => quietly(() => process.kill(server.pid, 'SIGKILL')),
    killDatabase: () => quietly(() => database.kill()),
    serverMemory: () => memoryOf(server.pid),
    back: async () => {
      const began = performance.now()
      while (performance.now() - began < longestMs) {
        const answer = await fetch(`${url}/api/health`, { signal: AbortSignal.timeout(5_000) }).catch(() => undefined)
        if (answer?.ok === true) return performance.now() - began
        await new Promise((resolve) => setTimeout(resolve, 50))
      }
      return undefined
    },
    close: async () => {
      leaveAlone()
      server.stop()
      await end
      database.stop()
    },
  }
}

/** What is already gone need not be killed. */
function quietly(action: () => void): void {
  try {
    action()
  } catch {
    // it ended before
  }
}

function memoryOf(pid: number): number {
  try {
    return 1024 * Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0)
  } catch {
    return 0
  }
}
