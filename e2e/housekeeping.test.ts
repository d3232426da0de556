import { readFileSync } from 'node:fs'
import { expect, test, visit } from './served'

test('a trial without loops moves pushes, watches any signal, and says what limited it', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  const arm = JSON.parse(readFileSync(new URL('../demo/boat-shed-arm.json', import.meta.url), 'utf8')) as object
  await page.request.post(`${served.url}/api/projects`, { data: { id: 'bare-arm', document: { ...arm, loops: {}, trials: {} } } })
  await page.goto(`${served.url}/bare-arm/trials`)
  await page.getByRole('button', { name: 'Trial', exact: true }).click()
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toBeVisible()
  await expect(page.locator('[data-watched="pushes.drives.railDrive"]')).toBeVisible()

  await test.step('a signal is found by its words', async () => {
    await page.getByRole('button', { name: 'Watch a signal' }).click()
    await page.getByRole('textbox', { name: 'Find a signal' }).fill('effort elbow')
    await page.keyboard.press('Enter')
    await expect(page.locator('[data-watched$=".effort"]')).toBeVisible()
    await page.getByRole('button', { name: /^Do not watch/ }).click()
    await expect(page.locator('[data-watched$=".effort"]')).toHaveCount(0)
  })

  await test.step('a push beyond what the drive can give is told', async () => {
    await page.getByRole('button', { name: /^rise: / }).click()
    await page.getByRole('textbox', { name: 'rise' }).fill('5 kN')
    await page.keyboard.press('Enter')
    await page.keyboard.press('Escape')
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByText(/rail drive was asked for up to 5000 N, and gives at most/)).toBeVisible()
  })
  expect(failures).toEqual([])
})

test('projects are found, copied, renamed, binned and taken back from the Yard', async ({ page, served }) => {
  await page.goto(served.url)
  const card = (name: string) => page.getByRole('link', { name: new RegExp(`^${name}`) })
  const menu = async (of: string, item: string) => {
    await page.getByRole('button', { name: `What to do with ${of}`, exact: true }).click()
    await page.getByRole('menuitem', { name: item }).click()
  }
  await page.getByRole('textbox', { name: 'Find a machine' }).fill('turret')
  await expect(card('Lens turret')).toBeVisible()
  await expect(card('Derrick')).toHaveCount(0)
  await menu('Lens turret', 'Copy')
  await expect(card('Lens turret, copy')).toBeVisible()
  await menu('Lens turret, copy', 'Name and note')
  await page.getByRole('textbox', { name: 'Name' }).fill('Große Turret-Probe')
  await page.getByRole('textbox', { name: 'Note' }).fill('for the second yoke')
  await page.getByRole('button', { name: 'Keep' }).click()
  await expect(card('Große Turret-Probe')).toBeVisible()
  await page.getByRole('textbox', { name: 'Find a machine' }).fill('second yoke')
  await menu('Große Turret-Probe', 'Put it into the bin')
  await expect(card('Große Turret-Probe')).toHaveCount(0)
  await page.getByRole('button', { name: 'Take it back' }).first().click()
  await expect(card('Große Turret-Probe')).toBeVisible()
  await card('Große Turret-Probe').click()
  await expect(page).toHaveTitle(/^Große Turret-Probe, machine/)
})

test('names are words in any letters, and all that names them follows', async ({ page, served }) => {
  await page.goto(`${served.url}/lens-turret/loops/pan`)
  await page.getByRole('button', { name: 'name of this loop: pan' }).click()
  const name = page.getByRole('textbox', { name: 'name' })
  await name.fill('Quer, über Bord')
  await name.press('Enter')
  await expect(page).toHaveURL(/loops\/querUberBord$/)
  await expect(page.getByRole('slider', { name: 'Quer, über Bord crossover' })).toBeVisible()
  await visit(page, '/lens-turret/trials/passingShip')
  await expect(page.getByRole('button', { name: /loop or push: Quer, über Bord/ })).toBeVisible()
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toContainText('steps good to')
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('button', { name: /loop or push: pan/ })).toBeVisible()
})
