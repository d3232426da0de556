import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { expect, test, visit } from './served'

interface Look {
  /** All of level AA where none are given. */
  readonly rules?: string[]
  /** A selector of the part that is looked at; the whole page where none is given. */
  readonly part?: string
}

/** No page of ours has frames: without a look into them the check takes half the time. */
async function violationsOf(page: Page, { rules, part }: Look = {}): Promise<string[]> {
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] })
  if (part !== undefined) axe.include(part)
  const { violations } = await (rules === undefined ? axe.withTags(['wcag2a', 'wcag2aa']) : axe.withRules(rules)).analyze()
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 140)).join(' | ')}`)
}

const stations = [
  'lamplighter/machine',
  'lamplighter/loops',
  'lamplighter/trials',
  'boarding-ramp/machine',
  'derrick/machine',
  'lens-turret/loops',
  'pilot-cutter/machine',
]

/** As a link of the page would: a page that is loaded anew works out everything anew. */
async function goOn(page: Page, path: string): Promise<void> {
  await page.evaluate((to) => {
    history.pushState(null, '', to)
    dispatchEvent(new PopStateEvent('popstate'))
  }, path)
  await expect(page).toHaveURL(new RegExp(`${path}$`))
}

test('stations are accessible by day, and at dusk', async ({ page, served }) => {
  await page.goto(served.url)
  for (const station of stations) {
    await goOn(page, `/${station}`)
    await expect(page.getByRole('navigation', { name: 'Course' })).toBeVisible()
    await page.waitForTimeout(1500)
    await page.evaluate(() => (document.documentElement.dataset['theme'] = 'day'))
    expect(await violationsOf(page), station).toEqual([])
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1280)
    // dusk has other colours, and nothing else
    await page.evaluate(() => (document.documentElement.dataset['theme'] = 'dusk'))
    expect(await violationsOf(page, { rules: ['color-contrast'] }), `${station} at dusk`).toEqual([])
  }
})

test('tabs, menus and dialogs are accessible, at dusk where contrast is least', async ({ page, served }) => {
  await page.addInitScript(() => localStorage.setItem('calm-hand.theme', 'dusk'))
  await page.goto(`${served.url}/lens-turret/machine`)
  await expect(page.getByText(/checks|hold/).first()).toBeVisible()
  for (const tab of ['Step its inputs', 'Move it', 'Read it']) {
    await page.getByRole('tab', { name: tab }).click()
    await page.waitForTimeout(700)
    expect(await violationsOf(page, { part: '[role="tabpanel"]' }), tab).toEqual([])
  }
  await page.getByRole('checkbox', { name: 'Mark yoke' }).click()
  await page.getByRole('checkbox', { name: 'Mark lens', exact: true }).click()
  await page.getByRole('button', { name: 'Show' }).click()
  await page.getByRole('menuitemcheckbox', { name: /distance/ }).click()
  expect(await violationsOf(page, { part: '[role="menu"]' }), 'Show menu').toEqual([])
  await page.keyboard.press('Escape')
  expect(await violationsOf(page, { part: 'aside' }), 'edited together').toEqual([])
  await page
    .getByRole('button', { name: /^Shelf|from the shelf/i })
    .first()
    .click()
  await expect(page.locator('[role="dialog"]')).toBeVisible()
  await page.waitForTimeout(600)
  expect(await violationsOf(page, { part: '[role="dialog"]' }), 'shelf').toEqual([])
  await page.keyboard.press('Escape')

  await visit(page, '/')
  await page.getByRole('button', { name: 'New machine' }).click()
  for (const way of ['Equations of motion', 'Matrices']) {
    await page.getByRole('button', { name: way }).click()
    expect(await violationsOf(page, { part: '[role="dialog"]' }), way).toEqual([])
  }
  await visit(page, '/pilot-cutter/loops/heading')
  await page.getByRole('button', { name: 'Keep' }).click()
  await page.waitForTimeout(800)
  expect(await violationsOf(page, { part: 'main' }), 'loops of the cutter').toEqual([])
  for (const look of ['locus', 'lanes']) {
    await visit(page, `/derrick/loops/slew?look=${look}`)
    await expect(page.getByRole('tab', { name: look, selected: true })).toBeVisible()
    await page.waitForTimeout(1500)
    expect(await violationsOf(page, { part: 'main' }), look).toEqual([])
  }
})

test('what is kept, and the door, are accessible at dusk', async ({ page, served }) => {
  await page.addInitScript(() => localStorage.setItem('calm-hand.theme', 'dusk'))
  await page.goto(`${served.url}/lens-float/loops`)
  await page.locator('[data-saving]').click()
  for (const tab of ['History', 'Runs', 'This project']) {
    await page.getByRole('tab', { name: tab }).click()
    await page.waitForTimeout(500)
    expect(await violationsOf(page, { part: '[role="dialog"]' }), tab).toEqual([])
  }
  await page.route('**/api/session', (route) => route.fulfill({ json: { guarded: true, level: null } }))
  await page.reload()
  await expect(page.getByLabel('Passphrase')).toBeFocused()
  expect(await violationsOf(page), 'the door').toEqual([])
})
