import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { commandLine, expect, test } from './served'

test('an engineer takes a trial by hand, and runs it again to the last bit', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  const panel = page.getByRole('region', { name: 'Hands' })
  const sheet = page.getByRole('region', { name: 'Cue sheet' })
  const clock = page.getByLabel('Clock by hand')
  const at = async () => Number.parseFloat(await page.getByTestId('cursor').innerText())
  const addHand = async (kind: string) => {
    await panel.getByRole('button', { name: 'Hand', exact: true }).click()
    await page.getByRole('menuitem', { name: kind, exact: true }).click()
  }
  const listen = async (name: RegExp, key: string) => {
    await panel.getByRole('button', { name }).click()
    await page.keyboard.press(key)
  }

  await test.step('lays out a slider and a button with their keys, and a push that waits for the button', async () => {
    await page.goto(`${served.url}/derrick/trials/hurried`)
    // long enough for any machine
    await page.getByRole('button', { name: /^time after the last cue/ }).click()
    await page.keyboard.press('Control+a')
    await page.keyboard.type('200')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Lay out hands' }).click()
    await addHand('slider')
    await listen(/^key up: none/, 'w')
    await addHand('button')
    await listen(/^key for it: none/, 'w')
    await expect(panel.getByRole('alert')).toContainText('The key w already moves slider.')
    await listen(/^key for it: w/, 't')
    await expect(panel.getByRole('alert')).toBeHidden()
    await sheet.getByRole('button', { name: 'Cue', exact: true }).click()
    await page.getByRole('menuitem', { name: 'push', exact: true }).click()
    const push = page.locator('li[data-cue="push"]')
    await push.getByRole('button', { name: /^when the cue comes/ }).click()
    await page.getByRole('menuitemradio', { name: 'comes when a hand is pressed' }).click()
    await expect(push).toContainText(/after button is pressed, .* is pushed/)
    await expect(panel.getByRole('button', { name: /^button/ }).first()).toContainText('push')
  })

  await test.step('moves them by keys and pointer, waits, steps, and slows the clock', async () => {
    await page.keyboard.press('h')
    await expect(clock).toBeVisible()
    await expect(page.getByRole('group', { name: /^Hands to move/ })).toBeFocused()
    await expect.poll(at).toBeGreaterThan(0.3)
    await page.keyboard.down('w')
    await expect.poll(at).toBeGreaterThan(0.7)
    await page.keyboard.up('w')
    await page.keyboard.press('t', { delay: 200 })
    await clock.getByRole('button', { name: '0.25×' }).click()
    const track = panel.getByRole('img', { name: /^slider: / })
    await track.hover({ position: { x: 32, y: 100 } })
    await page.mouse.down()
    await page.mouse.move(0, 0, { steps: 4 })
    await page.mouse.up()
    await clock.getByRole('button', { name: 'Pause' }).click()
    await expect(page.getByText('Waits', { exact: true })).toBeVisible()
    const before = await at()
    await clock.getByRole('button', { name: /^Step/ }).click()
    await expect.poll(at).toBeGreaterThanOrEqual(before + 0.0199)
  })

  await test.step('lets go: every touch is a cue, and one step of undo', async () => {
    await page.getByRole('button', { name: /^Let go/ }).click()
    await expect(page.getByTestId('run-state')).toBeVisible()
    await expect(sheet.getByLabel('Hands in time')).toBeVisible()
    await expect(page.locator('li[data-cue="touch1"]')).toContainText(/slider is moved up as in/)
    await expect(page.locator('li[data-cue="push"]')).toContainText(/came at/)
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(page.locator('li[data-cue="touch1"]')).toBeHidden()
    await page.getByRole('button', { name: 'Redo' }).click()
    await page.keyboard.press('r')
    await expect(page.getByText(/^Older than/)).toBeHidden()
  })

  await test.step('the command line gets the same to the last digit', async () => {
    await expect(page.getByText(/^Saved/)).toBeVisible()
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      (async () => {
        await page.getByRole('button', { name: 'Save the run as CSV' }).click()
        await page.getByRole('menuitem', { name: 'CSV, angles in radians' }).click()
      })(),
    ])
    const folder = mkdtempSync(join(tmpdir(), 'calm-hand-hands-'))
    let kept = ''
    const saved = async () => {
      const { document } = (await (await fetch(`${served.url}/api/projects/derrick`)).json()) as { document: unknown }
      return (kept = JSON.stringify(document))
    }
    await expect.poll(saved).toContain('touch1')
    writeFileSync(join(folder, 'derrick.json'), kept)
    const csv = join(folder, 'run.csv')
    commandLine('run', join(folder, 'derrick.json'), '--trial', 'hurried', '--csv', csv)
    const [theirs, ours] = [readFileSync(csv, 'utf8'), readFileSync(await download.path(), 'utf8')]
    expect(theirs === ours, 'rows of the command line and of the page are the same').toBe(true)
  })

  await test.step('a page that is left in mid-run keeps what was touched', async () => {
    await page.keyboard.press('h')
    await expect(clock.getByRole('button', { name: 'Pause' })).toBeEnabled()
    await expect(page.getByRole('group', { name: /^Hands to move/ })).toBeFocused()
    await page.keyboard.press('t', { delay: 100 })
    await expect(sheet.getByRole('slider', { name: 'time of cue touch1' })).toContainText('button')
    await page.reload()
    await page.getByRole('button', { name: /^\d+ hands/ }).click()
    await expect(panel).toContainText(/A run by hand was broken off at .*, with 1 touch/)
    await panel.getByRole('button', { name: 'Run it again' }).click()
    await expect(page.locator('li[data-cue="touch1"]')).toContainText(/button is moved/)
  })
  expect(failures).toEqual([])
})
