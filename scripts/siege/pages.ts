import { chromium } from '@playwright/test'
import type { Page } from '@playwright/test'
import playwright from '../../e2e/playwright.config'
import type { Besieged } from './besieged'
import { none, told } from './figures'
import type { Figure } from './figures'

/** Kills a page so many times in the middle of edits and saves, and looks at what it finds when it is opened again. */
export async function pageKills(app: Besieged, count: number): Promise<Figure[]> {
  const browser = await chromium.launch(playwright.use!.launchOptions)
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
  let [lost, conflicts, acknowledged, failed] = [0, 0, 0, 0]
  let [asked, kept] = [4.2, 4.2]
  let page = await context.newPage()
  for (let k = 0; k < count; k++) {
    try {
      if (k > 0) {
        const found = await crossoverOf(app, page)
        if (await page.getByText('Saved in another tab.').isVisible()) conflicts++
        // what was acknowledged, or what was asked for later
        if (found !== kept && found !== asked) lost++
        kept = found
      } else await crossoverOf(app, page)
      asked = Number((2 + ((k * 7) % 400) / 100).toFixed(2))
      await page.getByRole('button', { name: /^crossover/ }).click()
      await page.getByRole('textbox').fill(String(asked))
      await page.keyboard.press('Enter')
      if (k % 2 === 0) {
        await page.locator('[data-saving="saved"]').waitFor({ timeout: 30_000 })
        // saved may still be that of the edit before: the server says
        acknowledged++
        if ((await crossoverAt(app)) === asked) kept = asked
      } else await page.waitForTimeout(30 + 500 * Math.random())
    } catch {
      failed++
    }
    // a crash of its process, or its window closed
    if (k % 5 === 4) await page.goto('chrome://crash').catch(() => undefined)
    await page.close({ runBeforeUnload: false })
    page = await context.newPage()
    if (count >= 100 && k % 100 === 99) console.log(`  ${k + 1} kills of the page ...`)
  }
  await browser.close()
  return [
    told('kills of the page', `${count}, with ${acknowledged} saves acknowledged`),
    none('acknowledged edits lost', lost, count),
    none('false conflicts', conflicts, count),
    none('pages that did not come back', failed, count),
  ]
}

async function crossoverOf(app: Besieged, page: Page): Promise<number> {
  await page.goto(`${app.url}/lamplighter/loops/height`)
  const words = await page.getByRole('button', { name: /^crossover/ }).getAttribute('aria-label', { timeout: 30_000 })
  return Number(/([\d.]+) rad/.exec(words ?? '')?.[1])
}

async function crossoverAt(app: Besieged): Promise<number> {
  const answer = await fetch(`${app.url}/api/projects/lamplighter`)
  const { document } = (await answer.json()) as { document: { loops: { height: { tuning: { crossover: number } } } } }
  return document.loops.height.tuning.crossover
}
