import { expect, test, visit } from './served'

test('an engineer keeps several trials of a machine', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  const name = page.getByRole('button', { name: /^name of this trial/ })

  await test.step('one more, renamed where it stands', async () => {
    await page.goto(`${served.url}/lens-float/trials/glide`)
    await page.getByRole('button', { name: 'Trial', exact: true }).click()
    await expect(page).toHaveURL(/trials\/firstStep$/)
    await expect(page.getByRole('heading', { name: 'First step' })).toBeVisible()
    await name.click()
    await page.getByRole('textbox', { name: 'name of this trial' }).fill('A nudge')
    await page.keyboard.press('Enter')
    await expect(page.getByRole('heading', { name: 'A nudge' })).toBeVisible()
  })

  await test.step('it runs, and says how good its steps are', async () => {
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByTestId('run-state')).toContainText(/steps good to \de-\d/)
    await expect(page.getByText(/^The prediction leaves out/)).toBeVisible()
  })

  await test.step('steps of its own that are too long are told, and not blamed on the loop', async () => {
    await visit(page, '/lens-turret/trials/passingShip')
    await page.getByRole('button', { name: /^integration/ }).click()
    await page
      .getByRole('menuitemradio', { name: 'fixed steps of' })
      .or(page.getByRole('option', { name: 'fixed steps of' }))
      .click()
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByText(/Let (its|the) steps be chosen/)).toBeVisible()
    await page.keyboard.press('Control+z')
  })

  await test.step('a cue is dragged in time, as one step of undo, and Escape leaves it', async () => {
    await visit(page, '/lens-float/trials/firstStep')
    const cue = page.getByRole('slider', { name: /^time of cue/ }).first()
    const time = async () => Number(await cue.getAttribute('aria-valuenow'))
    const before = await time()
    const circle = cue.locator('circle')
    const drag = async () => {
      await circle.hover() // waits until it stands still: a run that arrives moves what is below it
      const box = (await circle.boundingBox())!
      const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
      await page.mouse.down()
      for (let i = 1; i <= 8; i++) await page.mouse.move(x + 15 * i, y)
      await expect.poll(time).toBeGreaterThan(before)
    }
    await drag()
    await page.keyboard.press('Escape')
    await page.mouse.up()
    await expect.poll(time).toBe(before)
    await drag()
    await page.mouse.up()
    const after = await time()
    expect(after).toBeGreaterThan(before)
    expect(Number((10 * after).toFixed(6)) % 1).toBe(0) // by tenths
    await cue.focus()
    await page.keyboard.press('ArrowRight')
    await expect.poll(time).toBeCloseTo(after + 0.1, 9)
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')
    await expect.poll(time).toBe(before)
  })

  await test.step('a copy, and what is removed comes back', async () => {
    await visit(page, '/lens-float/trials/firstStep')
    await page.getByRole('button', { name: 'Copy this trial' }).click()
    await expect(name).toHaveText('A nudge, copy')
    await page.getByRole('button', { name: 'Remove this trial' }).click()
    await expect(page.getByRole('button', { name: 'A nudge, copy' })).toHaveCount(0)
    await page.keyboard.press('Control+z')
    await expect(page.getByRole('button', { name: 'A nudge, copy' })).toBeVisible()
  })
  expect(failures).toEqual([])
})
