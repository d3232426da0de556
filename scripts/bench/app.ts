import { chromium } from '@playwright/test'
import type { Page } from '@playwright/test'
import { fork } from 'node:child_process'
import { join } from 'node:path'

const root = process.cwd()

/** The app as it is served, with the demo in a database of its own, while `use` has it. */
export async function withApp<Value>(use: (url: string) => Promise<Value>): Promise<Value> {
  const server = fork(join(process.env.SERVER_FOLDER!, 'main.mjs'), [], {
    cwd: root,
    env: { ...process.env, PORT: '0', WEB_FOLDER: join(root, 'web/dist'), LOG_LEVEL: 'fatal' },
  })
  const port = await new Promise<number>((resolve) =>
    server.on('message', (message: { listening: number }) => resolve(message.listening)),
  )
  try {
    return await use(`http://127.0.0.1:${port}/`)
  } finally {
    server.kill('SIGTERM')
  }
}

/** A page of a fresh browser, while `use` has it. */
export async function withPage<Value>(use: (page: Page) => Promise<Value>): Promise<Value> {
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] })
  try {
    return await use(await browser.newPage({ viewport: { width: 1280, height: 800 } }))
  } finally {
    await browser.close()
  }
}
