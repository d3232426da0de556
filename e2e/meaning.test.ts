import { readFileSync } from 'node:fs'
import type { Locator, Page } from '@playwright/test'
import { expect, test, visit } from './served'

/** Takes a signal from the search that is open. */
async function take(page: Page, words: string): Promise<void> {
  await page.getByRole('textbox', { name: 'Find a signal' }).fill(words)
  await page.keyboard.press('Enter')
}

async function saved(page: Page, button: RegExp): Promise<Buffer> {
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: button }).click()])
  return readFileSync(await file.path())
}

/** Types a number into a slot. */
async function set(page: Page, slot: string, words: string, within: Page | Locator = page): Promise<void> {
  await within
    .getByRole('button', { name: new RegExp(`^${slot}: `) })
    .first()
    .click()
  await page.getByRole('textbox', { name: slot }).fill(words)
  await page.keyboard.press('Enter')
}

test('an engineer says what a run is read for, keeps account of runs, and hands on a report', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  await page.goto(`${served.url}/lens-float/trials/glide`)
  const run = async () => {
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByTestId('run-state')).toBeVisible()
  }
  await run()
  const watches = page.locator('[data-watched]')

  await test.step('several signals of a sentence stand on axes by their units, over the part that it says', async () => {
    await page.getByRole('button', { name: 'Watch a signal' }).click()
    await take(page, 'error')
    await page.getByRole('button', { name: /^Watch another with/ }).click()
    await take(page, 'reference')
    await page.getByRole('button', { name: /^Watch another with/ }).click()
    await take(page, 'rate')
    await expect(watches.getByRole('button', { name: /^watched: / })).toHaveCount(3)
    await set(page, 'from', '0.2 s', watches)
    await expect(watches).toContainText(/from\s*0\.2 s/)
    await page.getByRole('button', { name: /^Do not watch .*reference/ }).click()
    await expect(watches.getByRole('button', { name: /^watched: / })).toHaveCount(2)
    await page.keyboard.press('Control+z')
    await expect(watches.getByRole('button', { name: /^watched: / })).toHaveCount(3)
  })

  await test.step('one over another, and closer about the cursor', async () => {
    await page.getByRole('button', { name: 'One over another' }).click()
    await take(page, 'reference')
    await expect(watches).toHaveCount(2)
    await expect(page.getByRole('textbox', { name: 'Find a signal' })).toHaveCount(0)
    await page.keyboard.press('+')
    await expect(page.getByText(/^Strips show 0/)).toBeVisible()
    await page.getByRole('button', { name: 'The whole run' }).click()
    await expect(page.getByText(/^Strips show/)).toHaveCount(0)
  })

  await test.step('a chart for a page has the size that it was asked for', async () => {
    await page.getByRole('button', { name: 'For print' }).click()
    await page.getByRole('button', { name: 'Lay it out' }).click()
    await set(page, 'width', '90 mm')
    await set(page, 'width', '5 mm')
    await expect(page.getByText(/The machine or the trial has a problem/)).toBeVisible()
    await page.keyboard.press('Escape')
    await page.keyboard.press('Control+z')
    const svg = (await saved(page, /^Save as SVG/)).toString()
    expect(svg).toContain('width="90mm"')
    expect((await saved(page, /^Save as CSV/)).toString()).toMatch(/ x,/)
  })

  await test.step('stills of the run are one archive', async () => {
    await page.getByRole('button', { name: 'Picture or film of the 3D view' }).click()
    for (const [field, value] of Object.entries({ Width: '160', Height: '9', to: '0.4' }))
      await page.getByRole('textbox', { name: field, exact: true }).fill(value)
    await expect(page.getByRole('alert')).toContainText('64 to 8192')
    await page.getByRole('textbox', { name: 'Height' }).fill('90')
    const zip = await saved(page, /^Save 5 stills/)
    expect(zip.subarray(0, 2).toString()).toBe('PK')
    expect(zip.toString('latin1').match(/still-000\d\.png/g)).toHaveLength(10) // each beside its content, and in the directory
    await page.keyboard.press('Escape')
  })

  await test.step('runs are kept with what made them, and made again to the last bit', async () => {
    await set(page, 'seed', '77')
    await run()
    await page.getByRole('link', { name: 'Its runs' }).click()
    const list = page.getByRole('list', { name: 'Kept runs' })
    await expect(list.getByRole('button')).toHaveCount(2)
    await expect(page.getByLabel('History of the trial')).toContainText(/seed of .*, then 77/)
    await page.getByRole('button', { name: 'Make it again' }).click()
    await expect(page.getByText(/the same, to the last bit/)).toBeVisible()
    await page.getByRole('button', { name: /^name of this run/ }).click()
    await page.getByRole('textbox', { name: 'name of this run' }).fill('Seventy-seven')
    await page.keyboard.press('Enter')
    await expect(list).toContainText('it has a name')
    await list.getByRole('button').last().click()
    await expect(page.getByLabel('Changed since')).toContainText(/then 77/)
    await page.reload()
    await page.getByRole('textbox', { name: 'Find runs' }).fill('seventy')
    await expect(list.getByRole('button')).toHaveCount(1)
    await page.getByRole('textbox', { name: 'Find runs' }).fill('nothing of that name')
    await expect(page.getByText('No run has these words.')).toBeVisible()
  })

  await test.step('the history says in words what changed', async () => {
    await page.locator('[data-saving]').click()
    await page.locator('[role=dialog] button[aria-expanded]').first().click()
    await expect(page.getByRole('dialog')).toContainText(/seed of .*, then 77/)
    await page.keyboard.press('Escape')
  })

  await test.step('a report is one file with all of it', async () => {
    await visit(page, '/lens-float/report')
    await page.getByRole('button', { name: 'Make the report' }).click()
    const html = (await saved(page, /^Save as one HTML/)).toString()
    expect(html.match(/(?:src|href)="(?!data:)/g)).toBeNull()
    for (const words of ['What is open', 'Gains', 'data:image/png', '<svg']) expect(html).toContain(words)
  })
  expect(failures).toEqual([])
})
