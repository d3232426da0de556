import AxeBuilder from '@axe-core/playwright'
import { expect, test } from './served'

for (const [station, theme] of [
  ['lamplighter/machine', 'day'],
  ['lamplighter/loops', 'day'],
  ['lamplighter/trials', 'day'],
  ['lamplighter/trials', 'dusk'],
  ['lamplighter/loops', 'dusk'],
  ['boarding-ramp/machine', 'day'],
  ['derrick/machine', 'dusk'],
  ['lens-turret/loops', 'day'],
  ['pilot-cutter/machine', 'day'],
  ['pilot-cutter/machine', 'dusk'],
] as const) {
  test(`${station} is accessible in ${theme}`, async ({ page, served }) => {
    await page.addInitScript((name) => localStorage.setItem('calm-hand.theme', name), theme)
    await page.goto(`${served.url}/${station}`)
    await expect(page.getByRole('navigation', { name: 'Course' })).toBeVisible()
    await page.waitForTimeout(1500)
    const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze()
    expect(violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 140)).join(' | ')}`)).toEqual([])
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1280)
  })
}
