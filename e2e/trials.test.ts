import { expect, test } from './served'

test('an engineer keeps several trials of a machine', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  const name = page.getByRole('button', { name: /^name of this trial/ })

  await test.step('one more, renamed where it stands', async () => {
    await page.goto(`${served.url}/lens-float/trials/glide`)
    await page.getByRole('button', { name: 'Trial', exact: true }).click()
    await expect(page).toHaveURL(/trials\/firstStep$/)
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
    await page.goto(`${served.url}/lens-turret/trials/passingShip`)
    await page.getByRole('button', { name: /^integration/ }).click()
    await page
      .getByRole('menuitemradio', { name: 'fixed steps of' })
      .or(page.getByRole('option', { name: 'fixed steps of' }))
      .click()
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByText(/Let (its|the) steps be chosen/)).toBeVisible()
    await page.keyboard.press('Control+z')
  })

  await test.step('a copy, and what is removed comes back', async () => {
    await page.goto(`${served.url}/lens-float/trials/firstStep`)
    await page.getByRole('button', { name: 'Copy this trial' }).click()
    await expect(name).toHaveText('A nudge, copy')
    await page.getByRole('button', { name: 'Remove this trial' }).click()
    await expect(page.getByRole('button', { name: 'A nudge, copy' })).toHaveCount(0)
    await page.keyboard.press('Control+z')
    await expect(page.getByRole('button', { name: 'A nudge, copy' })).toBeVisible()
  })
  expect(failures).toEqual([])
})
