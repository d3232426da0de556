import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { expect, test } from '../../e2e/served'

const folder = join(import.meta.dirname, '../../docs/screenshots')
const shoot = (page: Page, name: string) => page.screenshot({ path: join(folder, `${name}.png`) })

async function take(page: Page, slot: RegExp, text: string): Promise<void> {
  await page.getByRole('button', { name: slot }).first().click()
  await page.getByRole('textbox').fill(text)
  await page.keyboard.press('Enter')
}

/** The report of a machine is there, and what it swings like is drawn. */
async function modelChecked(page: Page): Promise<void> {
  await expect(page.getByText('Checking the model')).toBeHidden({ timeout: 30_000 })
  await page.waitForTimeout(2500)
}

test('the main views, from the demo', async ({ page, served }) => {
  await page.goto(served.url)
  await expect(page.getByRole('button', { name: 'New machine' })).toBeVisible()
  // machines are drawn as they are checked, beside the page
  for (const card of await page.getByRole('link', { name: /(body|bodies|states), / }).all())
    await expect(card.locator('svg path').first()).toBeVisible()
  await shoot(page, 'yard')
  await page.goto(`${served.url}/lamplighter/machine`)
  await modelChecked(page)
  await shoot(page, 'machine')
  await page.goto(`${served.url}/boarding-ramp/machine`)
  await modelChecked(page)
  await shoot(page, 'mechanism')
  await page.goto(`${served.url}/boat-shed-arm/machine`)
  await modelChecked(page)
  await page.getByRole('tab', { name: 'Move it' }).click()
  await page.waitForTimeout(4000)
  await shoot(page, 'motion')
  await page.goto(`${served.url}/pilot-cutter/machine`)
  await modelChecked(page)
  await page.getByRole('tab', { name: 'Read it' }).click()
  await page.waitForTimeout(3000)
  await shoot(page, 'written-machine')

  await page.goto(`${served.url}/derrick/trials/deckToQuay`)
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toBeVisible()
  await page.getByRole('slider', { name: 'Time cursor' }).fill('9')
  await page.waitForTimeout(2500)
  await shoot(page, 'machine-trial')

  await page.goto(`${served.url}/lens-float/loops/gap?look=locus`)
  await page.keyboard.press('k')
  await page.getByRole('button', { name: 'Take over the gains' }).click()
  await take(page, /^integral gain/, '0')
  await page.keyboard.press('k')
  await take(page, /^rate gain/, '4')
  await page.waitForTimeout(1500)
  await shoot(page, 'turning-gains')
  await page.goto(`${served.url}/lamplighter/loops/north?look=lanes`)
  await page.waitForTimeout(2000)
  await shoot(page, 'rate-lanes')

  await page.goto(`${served.url}/lamplighter/loops/height?look=together`)
  await expect(page.getByText(/All at once, each in its own way/)).toBeVisible({ timeout: 30_000 })
  await page.waitForTimeout(1500)
  await shoot(page, 'loops-together')
  await page.goto(`${served.url}/sprung-cabin/loops/heave?spread=bodies.cabin.mass&within=0.1`)
  await page.getByLabel('Add to it shall keep').selectOption('settlesWithin')
  await page.waitForTimeout(4000)
  await shoot(page, 'loops-spread')

  await page.goto(`${served.url}/lamplighter/loops/height`)
  await take(page, /^crossover/, '0.9')
  await page.goto(`${served.url}/lamplighter/trials/galleryRise`)
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toBeVisible()
  await page.keyboard.press('p')
  await page.waitForTimeout(2500) // until it is saved
  await page.goto(`${served.url}/lamplighter/loops/height`)
  await take(page, /^crossover/, '1.5')
  await page.waitForTimeout(1500) // until it is saved
  await page.goto(`${served.url}/lamplighter/loops/climbRate`)
  await expect(page.getByRole('slider', { name: /calm map/ })).toBeVisible({ timeout: 60_000 })
  await page.waitForTimeout(4000) // until the calm map is whole
  await shoot(page, 'loops')

  await page.goto(`${served.url}/lamplighter/trials/galleryRise`)
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toBeVisible()
  const rail = page.getByRole('slider', { name: 'Time cursor' })
  await rail.fill('1.6')
  await page.waitForTimeout(2500)
  await shoot(page, 'trials')
  await page.goto(`${served.url}/lamplighter/trials/galleryDelivery`)
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toBeVisible()
  await rail.fill('34')
  await page.waitForTimeout(2500)
  await shoot(page, 'delivery')
  await page.goto(`${served.url}/lamplighter/trials/galleryRise`)
  await expect(page.locator('[data-figures="pinned A"]')).toBeVisible()
  await page.locator('[data-saving]').click()
  await page.waitForTimeout(1000)
  await shoot(page, 'kept')
  await page.keyboard.press('Escape')
  await page.evaluate(() => localStorage.setItem('calm-hand.theme', 'dusk'))
  await page.reload()
  await expect(page.locator('[data-figures="pinned A"]')).toBeVisible()
  await page.getByRole('slider', { name: 'Time cursor' }).fill('1.6')
  await page.waitForTimeout(3000)
  await shoot(page, 'trials-dusk')
})
