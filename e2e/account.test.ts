import { expect, test, visit } from './served'

test('an engineer asks why a run is not as predicted, and reads it between two instants', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  await page.goto(`${served.url}/lens-float/trials/smallLift`)
  const gap = page.getByLabel('Account for the gap')

  await test.step('without a run it says what to do first', async () => {
    await page.getByRole('button', { name: 'Why not as predicted' }).click()
    await expect(gap.getByRole('button', { name: 'Work it out' })).toBeDisabled()
    await expect(gap).toContainText('Run the trial first')
  })

  await test.step('every cause has its share, and they add up', async () => {
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByTestId('run-state')).toBeVisible()
    await gap.getByRole('button', { name: 'Work it out' }).click()
    const shares = page.getByRole('table', { name: 'Shares of the gap' })
    await expect(shares).toContainText('Together')
    await expect(shares).toContainText('Nonlinearity')
    await expect(shares.getByRole('row', { name: /Nonlinearity/ })).toContainText(/100\.0 %|99\.\d %/)
    await expect(gap).toContainText('exact shares, 32 runs')
  })

  await test.step('another signal and another window tell of the same runs', async () => {
    await gap.getByRole('button', { name: /^signal/ }).click()
    await page.getByRole('menuitemradio', { name: /command of/ }).click()
    await expect(gap).toContainText(/differ by .* A rms/)
    await gap.getByRole('button', { name: /^to: / }).click()
    await page.keyboard.type('0.1')
    await page.keyboard.press('Enter')
    await expect(gap).toContainText('They do not differ')
    // no window at all is told, with its remedy
    await gap.getByRole('button', { name: /^from: / }).click()
    await page.keyboard.type('0.5')
    await page.keyboard.press('Enter')
    await expect(gap).toContainText('there is nothing of the run')
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')
    await expect(gap).toContainText(/differ by .* A rms/)
  })

  await test.step('once the trial is another, the account says that it is older', async () => {
    await page.getByRole('switch', { name: 'Air', exact: true }).click()
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(gap).toContainText('Older than the run that is shown')
    await expect(gap.getByRole('button', { name: 'Work it out anew' })).toBeEnabled()
    await page.keyboard.press('Control+z')
  })

  await test.step('a window tells figures, spectrum and histogram, and stays when the page is loaded again', async () => {
    await page.getByRole('button', { name: 'Between two instants' }).click()
    const read = page.getByLabel('Read between two instants')
    await expect(read).toContainText(/rises by|falls by/)
    await expect(read.getByRole('table', { name: 'Figures between the two instants' })).toContainText('simulated')
    await expect(read.getByRole('img', { name: /^Spectrum of/ })).toBeVisible()
    await read.getByRole('button', { name: 'histogram' }).click()
    await expect(read.getByRole('img', { name: /^Where .* is/ })).toBeVisible()
    await page.getByRole('slider', { name: 'Time cursor' }).focus()
    for (let i = 0; i < 20; i++) await page.keyboard.press('Shift+ArrowRight')
    await read.getByRole('button', { name: 'From the cursor' }).click()
    await expect(read.getByRole('button', { name: /^from: 0\.1/ })).toBeVisible()
    await expect(page.getByText(/^Saved/)).toBeVisible()
    await visit(page, '/lens-float/trials/smallLift')
    await page.getByRole('button', { name: 'Between two instants' }).click()
    await expect(read.getByRole('button', { name: /^from: 0\.1/ })).toBeVisible()
  })

  await test.step('an angle is told in degrees, everywhere', async () => {
    await visit(page, '/derrick/trials/deckToQuay?watch=slew')
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByTestId('run-state')).toBeVisible()
    await page.getByRole('button', { name: 'Between two instants' }).click()
    // its column turns by 1.25 rad
    await expect(page.getByLabel('Read between two instants')).toContainText(/rises by 7[12](\.\d)?°/)
    await expect(page.getByRole('table', { name: 'Figures between the two instants' })).toContainText('°/s')
  })
  expect(failures).toEqual([])
})
