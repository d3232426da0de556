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

test('the main views, from the demo', async ({ page, served }) => {
  await page.goto(served.url)
  await expect(page.getByRole('link', { name: /Lamplighter/ })).toBeVisible()
  await shoot(page, 'yard')
  await page.goto(`${served.url}/lamplighter/machine`)
  await page.waitForTimeout(3000)
  await shoot(page, 'machine')
  await page.goto(`${served.url}/boarding-ramp/machine`)
  await page.waitForTimeout(5000)
  await shoot(page, 'mechanism')
  await page.goto(`${served.url}/boat-shed-arm/machine`)
  await page.waitForTimeout(3500)
  await page.getByRole('tab', { name: 'Move it' }).click()
  await page.waitForTimeout(4000)
  await shoot(page, 'motion')
  await page.goto(`${served.url}/pilot-cutter/machine`)
  await page.waitForTimeout(3500)
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

  await page.goto(`${served.url}/lamplighter/loops/height`)
  await take(page, /^crossover/, '3.1')
  await page.goto(`${served.url}/lamplighter/trials/galleryRise`)
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toBeVisible()
  await page.keyboard.press('p')
  await page.waitForTimeout(2500) // until it is saved
  await page.goto(`${served.url}/lamplighter/loops/height`)
  await take(page, /^crossover/, '4.2')
  await page.waitForTimeout(4000) // until the calm map is whole
  await shoot(page, 'loops')

  await page.goto(`${served.url}/lamplighter/trials/galleryRise`)
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toBeVisible()
  const rail = page.getByRole('slider', { name: 'Time cursor' })
  await rail.fill('1.6')
  await page.waitForTimeout(2500)
  await shoot(page, 'trials')
  await page.evaluate(() => localStorage.setItem('calm-hand.theme', 'dusk'))
  await page.reload()
  await expect(page.locator('[data-figures="pinned A"]')).toBeVisible()
  await page.getByRole('slider', { name: 'Time cursor' }).fill('1.6')
  await page.waitForTimeout(3000)
  await shoot(page, 'trials-dusk')
})
