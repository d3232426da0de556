import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { expect, test, visit } from './served'

const saved = (page: Page) => expect(page.locator('[data-saving="saved"]')).toBeVisible()
const tab = (page: Page, name: string) => page.getByRole('tab', { name }).click()

test('an engineer writes a machine down as equations and trusts it', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))

  await test.step('equations are typed; a slip is told before anything is made', async () => {
    await page.goto(served.url)
    await page.getByRole('button', { name: 'New machine' }).click()
    await page.getByRole('button', { name: 'Equations of motion' }).click()
    const text = page.getByRole('textbox', { name: 'Equations of motion' })
    await text.fill("speed' = (push - drag * speed / mass")
    await expect(page.getByText(/line 1: Column/)).toBeVisible()
    await expect(page.locator('.cm-lintRange-error')).toHaveText("speed' = (push - drag * speed / mass")
    await text.press('Control+End')
    await page.keyboard.type(' - sp')
    await expect(page.getByRole('option', { name: 'speed' })).toBeVisible()
    await page.keyboard.press('Escape')
    await expect(page.getByRole('option', { name: 'speed' })).toHaveCount(0)
    await expect(text).toContainText('mass - sp')
    await text.fill(
      "speed' = (push - drag * speed) / mass [m/s]\nplace' = speed [m]\nspeed(0) = 2\nmass = 40 [kg]\ndrag = 20 [N·s/m]\n",
    )
    await expect(page.getByText('states: speed, place; inputs: push')).toBeVisible()
    await page.getByLabel('Its name').fill('Slip trolley')
    await page.getByRole('button', { name: 'Make it' }).click()
    await expect(page).toHaveURL(/slip-trolley\/machine/)
  })

  await test.step('its checks hold, and place runs on', async () => {
    await expect(page.getByText('3 of 3 hold')).toBeVisible()
    await expect(page.getByText(/rate left; place runs on/)).toBeVisible()
    await expect(page.getByText(/settles with 2 s/)).toBeVisible()
  })

  await test.step('a speed is fixed, and the push that it takes is told', async () => {
    await page.getByRole('combobox', { name: 'Add to operating point' }).selectOption('keeps a value')
    await page.getByRole('button', { name: /^value: 0/ }).click()
    await page.locator('[data-radix-popper-content-wrapper] input').fill('3')
    await page.keyboard.press('Enter')
    await expect(page.locator('[data-input="push"] .number').first()).toContainText('60')
  })

  await test.step('a state gets another name everywhere, and the mathematics follows', async () => {
    await page.getByRole('button', { name: 'speed, state' }).click()
    await page.getByLabel('name', { exact: true }).fill('pace')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('button', { name: 'pace, state' })).toBeVisible()
    await tab(page, 'Read it')
    await expect(page.getByRole('math').first()).toHaveAttribute('aria-label', /\\dot\{\\mathrm\{pace\}\} = \\frac/)
    await saved(page)
  })

  await test.step('all is there after a reload', async () => {
    await page.reload()
    await expect(page.getByRole('button', { name: 'pace, state' })).toBeVisible()
    await expect(page.locator('[data-input="push"] .number').first()).toContainText('60')
  })
  expect(failures).toEqual([])
})

test('an engineer asks what effort a motion takes, and takes the machine away', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  await page.goto(`${served.url}/lens-turret/machine`)
  await expect(page.getByText(/of 4 hold/)).toBeVisible()

  await test.step('a motion is read against what each motor can give', async () => {
    await tab(page, 'Move it')
    await expect(page.getByRole('button', { name: /^pan motor \d/ })).toBeVisible()
    await expect(page.getByText(/Followed by loops it is missed by at most/)).toBeVisible()
  })

  await test.step('a pose that is pulled by keys and kept becomes part of it', async () => {
    const slider = page.getByRole('slider', { name: /^yoke/ })
    await slider.focus()
    await page.keyboard.press('Shift+ArrowRight')
    await page.getByRole('button', { name: 'Keep pose' }).click()
    await page.getByRole('region', { name: 'Motions' }).getByRole('button', { name: 'follow' }).click()
    await expect(page.getByRole('button', { name: 'poses: 5 × 3' })).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(page.getByRole('button', { name: 'poses: 4 × 3' })).toBeVisible()
  })

  await test.step('a sensor shows what it reads, and its errors can be switched off in the URL', async () => {
    await tab(page, 'Let it go')
    await page.getByRole('region', { name: 'Sensors' }).getByRole('button', { name: 'lens gyro' }).click()
    await expect(page.getByRole('img', { name: /^rate about x of lens gyro\. 1001 samples/ })).toBeVisible()
    await page.getByRole('switch', { name: 'Sensor errors' }).click()
    await expect(page).toHaveURL(/off=sensorErrors/)
    await expect(page.getByRole('switch', { name: 'Sensor errors' })).toHaveAttribute('aria-checked', 'false')
  })

  await test.step('it is saved as a robot description', async () => {
    await page.keyboard.press('Control+k')
    await page.getByPlaceholder(/./).last().fill('robot description')
    const download = page.waitForEvent('download')
    await page.keyboard.press('Enter')
    const file = await (await download).path()
    expect(readFileSync(file, 'utf8')).toContain('<joint name="lensJoint" type="revolute">')
  })
  expect(failures).toEqual([])
})

test('an engineer lets a loop hold a machine without bodies, and runs it', async ({ page, served }) => {
  // as if nobody had closed a loop yet
  const address = `${served.url}/api/projects/pilot-cutter`
  const { document, revision } = (await (await page.request.get(address)).json()) as { document: object; revision: number }
  const bare = { ...document, loops: {}, trials: {} }
  expect((await page.request.put(address, { data: { revision, label: 'Bare', document: bare } })).ok()).toBe(true)
  await page.goto(`${served.url}/pilot-cutter/loops`)
  await test.step('the first loop holds what the first push moves, with gains 0', async () => {
    await page.getByRole('button', { name: 'Loop' }).click()
    await expect(page).toHaveURL(/loops\/thrust/)
    await expect(page.getByText('All gains are 0')).toBeVisible()
    await page.getByRole('button', { name: 'Ask for crossover and margin' }).click()
    await expect(page.getByText(/Stable, 57\.3°/)).toBeVisible()
  })
  await test.step('its trial starts from the nominal speed, and is what the prediction says', async () => {
    await saved(page)
    await visit(page, '/pilot-cutter/trials')
    await page.getByRole('button', { name: 'Trial' }).click()
    await expect(page.getByRole('button', { name: /^Run/ })).toBeVisible()
    await page.keyboard.press('r')
    await expect(page.getByTestId('run-state')).toContainText('11.0 s in')
    const row = (name: string) => page.locator(`[data-figures="${name}"] td`).allTextContents()
    expect(await row('simulated')).toEqual(await row('predicted'))
  })
  await test.step('all is there after a reload', async () => {
    await saved(page)
    await page.reload()
    await expect(page.getByTestId('run-state')).toBeVisible()
  })
})
