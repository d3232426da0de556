import { expect, test } from './served'
import { given, mapColumn, recordOfRig } from './rigRecord'

test('an engineer lays a record of the rig beside a trial, and takes over what explains it', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  await page.goto(`${served.url}/lamplighter/trials/quayCrossing`)
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toBeVisible()
  await page.getByRole('link', { name: 'Against a record' }).click()
  const beside = page.getByLabel('Side by side', { exact: true })
  const columns = page.getByRole('table', { name: 'Columns of the file' })

  await test.step('what is no record is refused, and says why', async () => {
    await given(page, 'picture.csv', Buffer.from([137, 80, 78, 71, 0, 0, 0]))
    await expect(beside).toContainText('This is no text')
    await given(page, 'empty.csv', '\n\n')
    await expect(beside).toContainText('There is nothing in this file')
  })

  await test.step('columns become signals with unit and sign; units that do not fit are told', async () => {
    await given(page, 'rig-0412.csv', recordOfRig())
    await expect(columns).toContainText('state lane')
    await expect(page.getByLabel('What the columns are')).toContainText('No rows from')
    const row = await mapColumn(page, 'alt_dn', 'place.height', 'N')
    await expect(page.getByLabel('What the columns are')).toContainText('does not measure height')
    await row.getByRole('button', { name: /^unit: / }).click()
    await page.getByRole('textbox', { name: 'unit' }).fill('cm')
    await page.keyboard.press('Enter')
    await row.getByRole('button', { name: /^sign: / }).click()
    await page.getByRole('menuitemradio', { name: '−' }).click()
    await mapColumn(page, 'px', 'place.east', 'mm')
    await mapColumn(page, 'py', 'place.north', 'mm')
    await expect(page.getByRole('img', { name: /^north\. / })).toBeVisible()
    await expect(page.getByLabel('State lane of mode')).toContainText('hold')
  })

  await test.step('how late it is, is proposed and taken', async () => {
    const shift = page.getByLabel('Time shift', { exact: true })
    await expect(shift).toContainText(/0\.(1[5-9]|2[0-2])\d* s by how fast/)
    await shift.getByRole('button', { name: /^Take 0\./ }).click()
    await expect(shift.getByRole('button', { name: /^Take 0\./ })).toHaveCount(0)
  })

  await test.step('figures and verdicts stand side by side', async () => {
    const table = page.getByRole('table', { name: 'Figures and verdicts' })
    await expect(table).toContainText('rig-0412.csv')
    await expect(table.getByRole('row', { name: /height, most/ })).toBeVisible()
  })

  const account = page.getByLabel('Account against the record')
  const numbers = page.getByRole('table', { name: 'Numbers that explain the record' })
  await test.step('the account finds the numbers that were other, with how well they are known, and leaves noise', async () => {
    await account.getByRole('button', { name: 'Which numbers explain it?' }).click()
    await expect(numbers).toContainText('mass of hull')
    await expect(numbers).toContainText(/1\.652 → 1\.8[0-4]/)
    await expect(numbers).toContainText(/0\.42 → 0\.5[4-8]/)
    await expect(account).toContainText('east: white')
    await expect(account).toContainText('north: white')
  })

  await test.step('the trial alone may have them; taken over, the machine has them, and what was found is older', async () => {
    await account.getByRole('button', { name: /^Take 2 numbers over/ }).click()
    await expect(account).toContainText('Older than what is shown')
    await page.getByRole('link', { name: /^Machine/ }).click()
    await expect(page.getByText(/1\.8[0-4]\d* kg/).first()).toBeVisible()
    await page.goBack()
    await expect(columns).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(account).not.toContainText('Older than what is shown')
  })

  await test.step('all of it stays when the page is loaded again, and C leads back to the trial', async () => {
    await expect(page.getByText(/^Saved/)).toBeVisible()
    await page.reload()
    await expect(columns).toContainText('state lane')
    await expect(page.getByLabel('Time shift', { exact: true })).toBeVisible()
    await page.getByLabel('Side by side over time').click({ position: { x: 4, y: 4 } })
    await page.keyboard.press('c')
    await expect(page.getByRole('button', { name: /^Run/ })).toBeVisible()
    await page.goBack()
    await beside.getByRole('button', { name: 'Let rig-0412.csv go' }).click()
    await expect(beside).toContainText('No record yet')
    await page.keyboard.press('Control+z')
    await expect(columns).toContainText('state lane')
  })
  expect(failures).toEqual([])
})
