import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Locator, Page } from '@playwright/test'
import { checkDocument } from '@calm-hand/core'
import type { Document } from '@calm-hand/core/document'
import { compile, findColumn, normalPair, start } from '@calm-hand/core/simulation'
import { expect, test } from './served'

/** What a rig would have written: centimetres downward, millimetres, half a second missing, its clock late, modes in words. */
function recordOfRig(): string {
  const parsed = checkDocument(JSON.parse(readFileSync(join(import.meta.dirname, '../demo/lamplighter.json'), 'utf8')))
  const document = (parsed as { readonly value: { readonly resolved: Document } }).value.resolved
  const program = compile(document, 'quayCrossing') as Extract<ReturnType<typeof compile>, { readonly kind: 'done' }>
  const truly = 'true.machines.lamplighter'
  const values = { [`${truly}.bodies.hull.mass`]: 1.82, [`${truly}.forces.drag.linear`]: 0.56 }
  const run = start(program.value).run({ trial: 'quayCrossing', layers: [], seed: document.trials.quayCrossing!.seed, values })
  const [height, east, north] = ['height', 'east', 'north'].map((one) => findColumn(run, `lamplighter.readings.place.${one}`)!)
  const noise = (stream: number, k: number) => 0.012 * (normalPair(7, stream, k)[0] as number)
  const every = Math.round(0.02 / run.time[1]!)
  const rows = [...run.time.keys()].flatMap((k) => {
    const t = run.time[k]!
    if (k % every !== 0 || (t > 5.1 && t < 5.6)) return []
    const [h, e, n] = [height, east, north].map((all, i) => all![k]! + noise(i, k)) as [number, number, number]
    return `${Math.round(1000 * (t + 0.184))};${(-100 * h).toFixed(1)};${Math.round(1000 * e)};${Math.round(1000 * n)};${t < 1 ? 'arm' : 'hold'};${22140 - k}`
  })
  return ['t_ms;alt_dn;px;py;mode;bat_mv', ...rows].join('\r\n').replaceAll('.', ',')
}

const given = (page: Page, name: string, text: string | Buffer) =>
  page.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })

test('an engineer lays a record of the rig beside a trial, and takes over what explains it', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  await page.goto(`${served.url}/lamplighter/trials/quayCrossing`)
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toBeVisible()
  await page.getByRole('link', { name: 'Against a record' }).click()
  const beside = page.getByLabel('Side by side', { exact: true })
  const columns = page.getByRole('table', { name: 'Columns of the file' })

  const map = async (column: string, words: string, unit: string): Promise<Locator> => {
    const row = columns.getByRole('row', { name: new RegExp(`^${column} `) })
    await row.getByRole('button', { name: new RegExp(`^signal of ${column}`) }).click()
    await page.keyboard.type(words)
    await page.keyboard.press('Enter')
    await expect(row).toContainText(words.split('.').at(-1)!)
    await row.getByRole('button', { name: /^unit: / }).click()
    await page.getByRole('textbox', { name: 'unit' }).fill(unit)
    await page.keyboard.press('Enter')
    await expect(row.getByRole('button', { name: `unit: ${unit}` })).toBeVisible()
    return row
  }

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
    const row = await map('alt_dn', 'place.height', 'N')
    await expect(page.getByLabel('What the columns are')).toContainText('does not measure height')
    await row.getByRole('button', { name: /^unit: / }).click()
    await page.getByRole('textbox', { name: 'unit' }).fill('cm')
    await page.keyboard.press('Enter')
    await row.getByRole('button', { name: /^sign: / }).click()
    await page.getByRole('menuitemradio', { name: '−' }).click()
    await map('px', 'place.east', 'mm')
    await map('py', 'place.north', 'mm')
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
