import type { Page } from '@playwright/test'
import { withPage } from './app'

/** Gestures of the demo, each in a fresh browser. */
const gestures: readonly { readonly name: string; readonly path: string; readonly does: (page: Page) => Promise<void> }[] = [
  {
    name: 'a rung of Lamplighter is dragged',
    path: 'lamplighter/loops/height',
    does: (page) => dragRung(page, 'height crossover'),
  },
  { name: 'a rung of the derrick is dragged', path: 'derrick/loops/luff', does: (page) => dragRung(page, 'luff crossover') },
  { name: 'a mass of the derrick is typed', path: 'derrick/machine', does: typeMass },
  { name: 'other loops of Lamplighter are chosen', path: 'lamplighter/loops/height', does: chooseLoops },
]

/** ms: a page that has gone quiet works on nothing any more. */
const quietMs = 5_000
const steps = 40
/** ms: a frame of a screen that draws sixty a second. */
const frameMs = 16

export interface GestureTold {
  readonly name: string
  /** Tasks of the main thread above 50 ms, as the browser reports them, and the longest, ms. */
  readonly long: number
  readonly longest: number
}

/** How long the main thread is held up while somebody works: long-task entries of the browser. */
export async function heldUp(url: string): Promise<readonly GestureTold[]> {
  const told: GestureTold[] = []
  for (const { name, path, does } of gestures)
    told.push(
      await withPage(async (page) => {
        await page.goto(`${url}${path}`)
        await page.waitForTimeout(2 * quietMs)
        await page.evaluate(() => {
          const tasks: number[] = []
          Object.assign(window, { tasks })
          new PerformanceObserver((list) => tasks.push(...list.getEntries().map(({ duration }) => duration))).observe({
            type: 'longtask',
          })
        })
        await does(page)
        await page.waitForTimeout(quietMs)
        const tasks = await page.evaluate(() => (window as unknown as { tasks: number[] }).tasks)
        return { name, long: tasks.length, longest: Math.max(0, ...tasks) }
      }),
    )
  return told
}

async function dragRung(page: Page, rung: string): Promise<void> {
  // words of other rungs lie over its middle: it is taken by its handle
  const box = (await page.getByRole('slider', { name: rung }).locator('circle').boundingBox())!
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  for (let i = 1; i <= steps; i++) {
    await page.mouse.move(x, y - i / 2)
    await page.waitForTimeout(frameMs)
  }
  await page.mouse.up()
}

async function chooseLoops(page: Page): Promise<void> {
  for (const loop of ['climb rate', 'heading', 'tilt east', 'height']) {
    const box = (await page
      .getByRole('slider', { name: `${loop} crossover` })
      .locator('circle')
      .boundingBox())!
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2)
    await page.waitForTimeout(chooseMs)
  }
}

/** ms: a look at what was chosen. */
const chooseMs = 1_500

async function typeMass(page: Page): Promise<void> {
  await page
    .getByRole('button', { name: /^mass: / })
    .first()
    .click()
  await page.keyboard.press('Control+a')
  await page.keyboard.type('321', { delay: 80 })
  await page.keyboard.press('Enter')
}
