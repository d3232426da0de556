import { test as base } from '@playwright/test'
import type { Page } from '@playwright/test'
import { fork, spawnSync } from 'node:child_process'
import type { ChildProcess } from 'node:child_process'
import { join } from 'node:path'
import pg from 'pg'
import { startTemporaryDatabase } from '../scripts/database.mjs'
import { serverBuild } from '../scripts/serverBuild.mjs'

const root = join(import.meta.dirname, '..')

interface Served {
  readonly url: string
  /** Ends the database's server, as a fault would; `back` starts it again. */
  readonly stopDatabase: () => void
  readonly startDatabase: () => Promise<void>
  /** Kills the app's server without warning, and starts another on the same port. */
  readonly killServer: () => Promise<void>
  /** Puts the demo back to its first state. */
  readonly resetDemo: () => Promise<void>
}

/** The real app on a database of its own, with the demo in its first state for each test. */
export const test = base.extend<{ fresh: undefined }, { served: Served }>({
  fresh: [
    async ({ served }, use) => {
      await served.resetDemo()
      await use(undefined)
    },
    { auto: true },
  ],
  served: [
    // Playwright reads the fixtures wanted from the pattern: none
    // eslint-disable-next-line no-empty-pattern
    async ({}, use) => {
      const database = await startTemporaryDatabase()
      let server = await started(database.addressFile, 0)
      const { port } = server
      // it has put the demo in: checking all of it again for each test would take longer than most tests
      await query(database.url, keepDemo)
      await use({
        url: `http://127.0.0.1:${port}`,
        stopDatabase: () => database.halt(),
        startDatabase: async () => void (await database.restart()),
        resetDemo: () => query(database.url, putDemoBack),
        killServer: async () => {
          server.child.kill('SIGKILL')
          server = await started(database.addressFile, port)
        },
      })
      server.child.kill('SIGTERM')
      database.stop()
    },
    { scope: 'worker', timeout: 120_000 },
  ],
})

export { expect } from '@playwright/test'

/**
 * Goes to an address of the app as its own links do, from any page of it but the first: a page that is loaded anew starts its
 * workers cold, which takes most of the time of these tests.
 */
export async function visit(page: Page, path: string): Promise<void> {
  await page.evaluate((to) => {
    window.history.pushState(null, '', to)
    window.dispatchEvent(new PopStateEvent('popstate'))
  }, path)
  await page.locator(`[data-address="${path}"]`).waitFor({ state: 'attached' })
}

const demoTables = ['project', 'revision']
const keepDemo = demoTables.map((name) => `create table demo_${name} as table ${name};`).join('')
const putDemoBack = `truncate project, asset cascade; ${demoTables.map((name) => `insert into ${name} table demo_${name};`).join('')}`

async function query(url: string, text: string): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    await client.query(text)
  } finally {
    await client.end()
  }
}

async function started(addressFile: string, port: number): Promise<{ child: ChildProcess; port: number }> {
  const child = fork(join(await serverBuild(), 'main.mjs'), [], {
    cwd: root,
    execArgv: [],
    env: {
      ...process.env,
      DATABASE_FILE: addressFile,
      PORT: String(port),
      WEB_FOLDER: join(root, 'web', 'dist'),
      LOG_LEVEL: 'fatal',
    },
  })
  return new Promise((resolve, reject) => {
    child.on('message', (message: { listening: number }) => resolve({ child, port: message.listening }))
    child.on('exit', () => reject(new Error('The server ended before it listened.')))
  })
}

/** Runs the command line in the repository; gives its standard output. */
export function commandLine(...words: string[]): { status: number | null; output: string } {
  const done = spawnSync('npx', ['--no-install', 'calm-hand', ...words], { cwd: root, encoding: 'utf8', maxBuffer: 1 << 28 })
  return { status: done.status, output: done.stdout }
}
