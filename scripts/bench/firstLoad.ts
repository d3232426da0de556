import { chromium } from '@playwright/test'
import { fork } from 'node:child_process'
import { join } from 'node:path'

const root = process.cwd()

/** ms from navigation to the first machine card, least of five fresh browsers. */
export async function firstLoad(): Promise<number> {
  const server = fork(join(process.env.SERVER_FOLDER!, 'main.mjs'), [], {
    cwd: root,
    env: { ...process.env, PORT: '0', WEB_FOLDER: join(root, 'web/dist'), LOG_LEVEL: 'fatal' },
  })
  const port = await new Promise<number>((resolve) =>
    server.on('message', (message: { listening: number }) => resolve(message.listening)),
  )
  let best = Infinity
  for (let round = 0; round < 5; round++) {
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] })
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const began = performance.now()
    await page.goto(`http://127.0.0.1:${port}/`)
    await page.getByRole('link', { name: /Lamplighter/ }).waitFor()
    best = Math.min(best, performance.now() - began)
    await browser.close()
  }
  server.kill('SIGTERM')
  return best
}
