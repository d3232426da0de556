import { chromium } from '@playwright/test'
import type { Browser, Page } from '@playwright/test'
import playwright from '../../e2e/playwright.config'
import { lamplighter } from '../../core/tests/demo'
import type { Besieged } from './besieged'
import { none, told } from './figures'
import type { Figure } from './figures'

/** Browsers at work at once, each on a project of its own. */
const browsers = 3

/** A page that has not come by then never will; a machine may be slow. */
const patienceMs = 180_000

/** Kills pages so many times in the middle of edits and saves, and looks at what they find when they are opened again. */
export async function pageKills(app: Besieged, count: number): Promise<Figure[]> {
  const seen = { kills: 0, lost: 0, conflicts: 0, acknowledged: 0, failed: 0 }
  await Promise.all(
    Array.from({ length: Math.min(browsers, count) }, async (_, i) => {
      const browser = await chromium.launch(playwright.use!.launchOptions)
      await onProject(app, browser, `page-kills-${i}`, seen, count)
      await browser.close()
    }),
  )
  return [
    told('kills of the page', `${count}, with ${seen.acknowledged} saves acknowledged`),
    none('acknowledged edits lost', seen.lost, seen.acknowledged),
    none('false conflicts', seen.conflicts, count),
    none('pages that did not come back', seen.failed, count),
  ]
}

interface Seen {
  kills: number
  lost: number
  conflicts: number
  acknowledged: number
  failed: number
}

/** One browser, until there were `count` kills in all of them. */
async function onProject(app: Besieged, browser: Browser, project: string, seen: Seen, count: number): Promise<void> {
  const document = lamplighter()
  await fetch(`${app.url}/api/projects`, {
    ...{ method: 'POST', headers: { 'Content-Type': 'application/json' } },
    body: JSON.stringify({ id: project, document }),
  })
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
  context.setDefaultTimeout(patienceMs)
  let page = await context.newPage()
  let kept = await massOf(app, page, project)
  while (seen.kills < count) {
    const k = seen.kills++
    const asked = Number((1.5 + ((k * 7) % 400) / 1000).toFixed(3))
    try {
      await opened(page)
      await fieldOf(page).fill(String(asked))
      await page.keyboard.press('Enter')
      if (k % 2 === 0) {
        await page.locator('[data-saving="saved"]').waitFor({ timeout: patienceMs })
        // saved may still be that of the edit before: the server says
        if ((await massAt(app, project)) === asked) {
          seen.acknowledged++
          kept = asked
        }
      } else await page.waitForTimeout(30 + 500 * Math.random())
      // a crash of its process, or its window closed
      if (k % 5 === 4) await page.goto('chrome://crash').catch(() => undefined)
      await page.close({ runBeforeUnload: false })
      page = await context.newPage()
      const found = await massOf(app, page, project)
      if (await page.getByText('Saved in another tab.').isVisible()) seen.conflicts++
      // what was acknowledged, or what was asked for later
      if (found !== kept && found !== asked) seen.lost++
      kept = found
    } catch (error) {
      seen.failed++
      const saving = await page
        .locator('[data-saving]')
        .evaluate((one) => `${one.getAttribute('data-saving')}: ${one.textContent}`, undefined, { timeout: 5_000 })
        .catch(async () => `nothing of saves, but ${(await page.locator('body').innerText({ timeout: 5_000 })).slice(0, 300)}`)
        .catch(() => 'nothing')
      console.log(`  kill ${k + 1}: the page says ${saving}. ${(error as Error).message.slice(0, 300)}`)
      await page.close().catch(() => undefined)
      page = await context.newPage()
      kept = await massOf(app, page, project).catch(() => kept)
    }
    if (count >= 100 && k % 100 === 99) console.log(`  ${k + 1} kills of the page ...`)
  }
}

async function massOf(app: Besieged, page: Page, project: string): Promise<number> {
  await page.goto(`${app.url}/${project}/machine`)
  const words = await massSlot(page).getAttribute('aria-label', { timeout: patienceMs })
  return Number(/([\d.]+) kg/.exec(words ?? '')?.[1])
}

/** The field of the slot that is open: the station has others. */
function fieldOf(page: Page) {
  return page.locator('[data-radix-popper-content-wrapper]').getByRole('textbox')
}

/** A slot that was open with letters in it when its page ended is open again, and a press would close it. */
async function opened(page: Page): Promise<void> {
  const field = fieldOf(page)
  for (let waited = 0; waited < patienceMs; waited += 5_000) {
    if (await field.isVisible()) return
    await massSlot(page).click()
    await field.waitFor({ timeout: 5_000 }).catch(() => undefined)
  }
}

/** The mass of the first body: a page that is light to open again and again. */
function massSlot(page: Page) {
  return page.getByRole('button', { name: /^mass: / }).first()
}

async function massAt(app: Besieged, project: string): Promise<number> {
  const answer = await fetch(`${app.url}/api/projects/${project}`)
  const { document } = (await answer.json()) as {
    document: { machines: { lamplighter: { bodies: { hull: { mass: number } } } } }
  }
  return document.machines.lamplighter.bodies.hull.mass
}
