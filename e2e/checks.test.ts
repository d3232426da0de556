import { expect, test } from './served'

test('an engineer says what must hold, and a run passes or fails it', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  const checks = page.getByRole('region', { name: 'Checks' })
  const item = (key: string) => page.locator(`li[data-check="${key}"]`)
  const add = async (kind: string) => {
    await checks.getByRole('button', { name: 'Check', exact: true }).click()
    await page.getByRole('menuitem', { name: kind, exact: true }).click()
  }
  const run = async () => {
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByTestId('run-state')).toBeVisible()
  }
  const slot = async (key: string, name: RegExp, value: string) => {
    await item(key).getByRole('button', { name }).click()
    await page.keyboard.press('Control+a')
    await page.keyboard.type(value)
    await page.keyboard.press('Enter')
  }

  await test.step('a trial without checks says so; one is added and judged by the run that is there', async () => {
    await page.goto(`${served.url}/lens-float/trials/glide`)
    await page.getByRole('button', { name: 'Trial', exact: true }).click()
    await expect(checks.getByText(/^Nothing has to hold yet/)).toBeVisible()
    await run()
    await add('stays near its reference')
    await expect(item('check')).toHaveAttribute('data-outcome', 'holds')
    await expect(item('check')).toContainText(/\+[\d.e-]+ m at \d/)
    await expect(checks.getByTestId('checks-held')).toHaveText('1 / 1')
  })

  await test.step('counted from sooner it fails at once, without another run, and the way back holds again', async () => {
    await slot('check', /^from: /, '1')
    await expect(item('check')).toHaveAttribute('data-outcome', 'fails')
    await expect(item('check')).toContainText(/failed at/)
    await expect(page.getByRole('navigation').getByText('1 of 1 checks fails')).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(item('check')).toHaveAttribute('data-outcome', 'holds')
    await expect(page.locator('[data-band=calm]').first()).toBeAttached()
  })

  await test.step('any signal is found by its words; a condition that is wrong is told at its place', async () => {
    await add('never exceeds')
    await item('check2')
      .getByRole('button', { name: /^signal: / })
      .click()
    await page.getByRole('textbox', { name: 'Find a signal' }).fill('gap error')
    await page.keyboard.press('Enter')
    await expect(item('check2').getByRole('button', { name: /^signal: .*error/ })).toBeVisible()
    await add('a condition')
    await item('check3')
      .getByRole('button', { name: /^condition/ })
      .click()
    await page.getByRole('textbox', { name: 'condition' }).fill('lens.travel <')
    await page.keyboard.press('Enter')
    await expect(page.getByText(/column \d+/).first()).toBeVisible()
    await expect(item('check')).toHaveAttribute('data-outcome', 'holds')
    await page.keyboard.press('Control+z')
    await expect(page.getByText(/column \d+/)).toHaveCount(0)
  })

  await test.step('a check may end the run, which is an answer', async () => {
    await slot('check2', /^from: /, '0')
    await slot('check2', /^limit: /, '0.00005')
    await item('check2')
      .getByRole('button', { name: /^what a failure does/ })
      .click()
    await page.getByRole('menuitemradio', { name: 'the run ends' }).click()
    await run()
    await expect(page.getByText(/A check ended it at \d/)).toBeVisible()
    await expect(item('check2')).toHaveAttribute('data-outcome', 'fails')
    await expect(item('check')).toHaveAttribute('data-outcome', 'open')
    await page.reload()
    await expect(item('check2')).toHaveAttribute('data-outcome', 'fails')
    await expect(page.getByText(/A check ended it at \d/)).toBeVisible()
  })

  await test.step('what is removed comes back', async () => {
    await item('check2').getByRole('button', { name: 'Remove this check' }).click()
    await expect(item('check2')).toHaveCount(0)
    await page.keyboard.press('Control+z')
    await expect(item('check2')).toBeVisible()
  })
  expect(failures).toEqual([])
})
