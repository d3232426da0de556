import { expect, test, visit } from './served'

test('an engineer says what happens to the machine, when, and sees what came of it', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  const sheet = page.getByRole('region', { name: 'Cue sheet' })
  const item = (key: string) => page.locator(`li[data-cue="${key}"]`)
  const add = async (kind: string) => {
    await sheet.getByRole('button', { name: 'Cue', exact: true }).click()
    await page.getByRole('menuitem', { name: kind, exact: true }).click()
  }
  const choose = async (key: string, name: RegExp, option: string) => {
    await item(key).getByRole('button', { name }).click()
    await page.getByRole('menuitemradio', { name: option, exact: true }).click()
  }
  const type = async (key: string, name: RegExp, value: string) => {
    await item(key).getByRole('button', { name }).click()
    await page.keyboard.press('Control+a')
    await page.keyboard.type(value)
    await page.keyboard.press('Enter')
  }
  const run = async () => {
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByTestId('run-state')).toBeVisible()
  }

  await test.step('a push, a failure and a fault stand on lanes of their own', async () => {
    await page.goto(`${served.url}/lamplighter/trials/galleryRise`)
    await add('push')
    await add('failure of a part')
    await add('scaled')
    await expect(sheet.getByLabel('Outside in time')).toBeVisible()
    await expect(sheet.getByLabel('Faults in time')).toBeVisible()
    await expect(item('push')).toContainText(/hull is pushed steadily for/)
    await expect(item('failure')).toContainText(/rotor 6 loses 35 % of what it gives/)
    await run()
    await expect(page.getByText(/^The prediction leaves out .*what pushes it from outside and faults/)).toBeVisible()
  })

  await test.step('a cue comes after another, and is stretched and moved by keys', async () => {
    await choose('push', /^when the cue comes/, 'comes after another cue')
    await expect(item('push')).toContainText(/after rise is over, hull is pushed/)
    const time = page.getByRole('slider', { name: 'time of cue push' })
    await type('push', /^time: /, '0.5')
    await expect(time).toHaveAttribute('aria-valuenow', '0.5')
    await time.focus()
    await page.keyboard.press('ArrowRight')
    await expect(time).toHaveAttribute('aria-valuenow', '0.6')
    const long = page.getByRole('slider', { name: 'duration of cue push' })
    await long.focus()
    await page.keyboard.press('Shift+ArrowRight')
    await expect(long).toHaveAttribute('aria-valuenow', '1.5')
    await run()
    await expect(item('push')).toContainText('came at 1.60 s')
  })

  await test.step('one that waits for what never happens says so; one in a circle is told, and the last good run stays', async () => {
    await choose('failure', /^when the cue comes/, 'comes on a condition')
    await item('failure')
      .getByRole('button', { name: /^condition/ })
      .click()
    await page.getByRole('textbox', { name: 'condition' }).fill('readings.place.height > 40')
    await page.keyboard.press('Enter')
    await expect(item('failure').getByRole('button', { name: 'condition: readings.place.height > 40' })).toBeVisible()
    await run()
    await expect(item('failure')).toContainText(/did not come by \d/)
    await choose('scaled', /^when the cue comes/, 'comes after another cue')
    await choose('scaled', /^other cue/, 'failure')
    await choose('failure', /^when the cue comes/, 'comes after another cue')
    await choose('failure', /^other cue/, 'scaled')
    await expect(item('failure').getByText(/wait for each other, so neither comes/)).toBeVisible()
    await expect(page.getByText(/runs use the last state without one/)).toBeVisible()
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')
    await expect(page.getByText(/wait for each other/)).toHaveCount(0)
  })

  await test.step('the run goes along with a number under the hand, and with what was there before when it is let go', async () => {
    await visit(page, '/lens-float/trials/glide')
    await run()
    // a machine on which that takes too long says so, and runs once the hand has let go
    const runState = await page.getByTestId('run-state').innerText()
    if (runState.includes('too long to go along with a hand')) return
    const strips = page.locator('[data-strips]')
    const before = await strips.getAttribute('data-strips')
    const first = page.locator('li[data-cue]').first()
    await first.getByRole('button', { name: /^time: / }).click()
    await page.keyboard.press('ArrowUp')
    await expect(strips).not.toHaveAttribute('data-strips', before!)
    await expect(page.getByText(/Older than the loops/)).toHaveCount(0)
    await page.keyboard.press('Escape')
    await expect(strips).toHaveAttribute('data-strips', before!)
    await first.getByRole('button', { name: /^time: / }).click()
    await page.keyboard.press('ArrowUp')
    await expect(strips).not.toHaveAttribute('data-strips', before!)
    await page.keyboard.press('Enter')
    await expect(page.getByTestId('run-state')).toContainText(/steps good to/)
    await expect(strips).not.toHaveAttribute('data-strips', before!)
    await page.keyboard.press('Control+z')
    await expect(strips).toHaveAttribute('data-strips', before!)
  })

  await test.step('all of it survives a reload', async () => {
    await visit(page, '/lamplighter/trials/galleryRise')
    await expect(page.getByText(/^Saved/)).toBeVisible()
    await page.reload()
    await expect(item('push')).toContainText(/after rise is over, hull is pushed/)
  })

  await test.step('a scene of her own: an obstacle, how far it is, and a check that keeps clear of it', async () => {
    await visit(page, '/derrick/trials')
    const scene = page.getByRole('region', { name: 'Scene', exact: true })
    await scene.getByRole('button', { name: /^scene: / }).click()
    await page.getByRole('menuitemradio', { name: 'a new scene' }).click()
    await expect(scene.getByText('Nothing stands there yet.')).toBeVisible()
    await scene.getByRole('button', { name: 'Add to the scene' }).click()
    await page.getByRole('menuitem', { name: 'sphere', exact: true }).click()
    await scene
      .getByRole('button', { name: /^place x: / })
      .first()
      .click()
    await page.keyboard.press('Control+a')
    await page.keyboard.type('40')
    await page.keyboard.press('Enter')
    await run()
    await page.getByRole('button', { name: 'Watch a signal' }).click()
    await page.getByRole('textbox', { name: 'Find a signal' }).fill('clearance')
    await page.keyboard.press('Enter')
    await expect(page.locator('[data-watched$=".clearance"]')).toBeVisible()
    await page.getByRole('button', { name: 'Watch a signal' }).click()
    await page.getByRole('textbox', { name: 'Find a signal' }).fill('effort of all')
    await page.keyboard.press('Enter')
    const efforts = page.locator('[data-watched="derrick.drives.effort [N·m]"]')
    await expect(efforts.getByRole('listitem')).toHaveText([/^slew/, /^luff/])
    await scene
      .getByRole('button', { name: /^radius: / })
      .first()
      .click()
    await page.keyboard.press('Control+a')
    await page.keyboard.type('60')
    await page.keyboard.press('Enter')
    await run()
    await expect(page.getByText(/touched what stands around it from 0\.00 s/)).toBeVisible()
  })

  await test.step('the errand: what waited came, in a page and by the same words as by the command line', async () => {
    await visit(page, '/lamplighter/trials/galleryDelivery')
    await run()
    await expect(item('putDown')).toContainText('came at 33.12 s')
    await expect(page.locator('li[data-check="north"]')).toHaveAttribute('data-outcome', 'fails')
    await expect(page.locator('li[data-check="delivered"]')).toHaveAttribute('data-outcome', 'holds')
  })
  expect(failures).toEqual([])
})
