import type { Page } from '@playwright/test'
import { expect, test } from './served'

const saved = (page: Page) => expect(page.locator('[data-saving="saved"]')).toBeVisible({ timeout: 30_000 })

async function setCrossover(page: Page, text: string): Promise<void> {
  await page.getByRole('button', { name: /^crossover/ }).click()
  await page.getByRole('textbox').fill(text)
  await page.keyboard.press('Enter')
}

const crossover = (page: Page) => page.getByRole('button', { name: /^crossover/ })

test('two tabs on one project: the stale one is told and nothing is lost', async ({ context, served }) => {
  const [first, second] = [await context.newPage(), await context.newPage()]
  for (const page of [first, second]) {
    await page.goto(`${served.url}/lamplighter/loops/height`)
    await expect(crossover(page)).toBeVisible()
  }
  await setCrossover(first, '3.3')
  await saved(first)
  await expect(second.getByText('Saved in another tab.')).toBeVisible()
  await setCrossover(second, '5.1')
  await second.getByRole('button', { name: 'Keep mine on top' }).click()
  await saved(second)
  await expect(first.getByText('Saved in another tab.')).toBeVisible()
  await first.getByRole('button', { name: 'Take what was saved' }).click()
  await expect(crossover(first)).toContainText('5.1')
  await first.keyboard.press('Control+z')
  await expect(crossover(first)).toContainText('3.3')
  const history = (await (await first.request.get(`${served.url}/api/projects/lamplighter/revisions`)).json()) as {
    label: string
  }[]
  expect(history.length).toBeGreaterThanOrEqual(3)
})

test('the database stops in the middle of the work: it is kept, said, and delivered later', async ({ page, served }) => {
  await page.goto(`${served.url}/lamplighter/loops/height`)
  await expect(crossover(page)).toBeVisible()
  served.stopDatabase()
  await setCrossover(page, '2.9')
  await expect(page.getByRole('alert').filter({ hasText: 'The database does not answer.' })).toBeVisible()
  await setCrossover(page, '3.7')
  await page.waitForTimeout(500)
  await page.reload()
  await expect(page.getByRole('heading', { name: 'This project cannot be opened yet' })).toBeVisible()
  await served.startDatabase()
  // by itself, with what was not saved
  await expect(crossover(page)).toContainText('3.7', { timeout: 30_000 })
  await saved(page)
  await page.reload()
  await expect(crossover(page)).toContainText('3.7')
})

test('the server is killed during a save: the browser keeps the work, also over a reload', async ({ page, served }) => {
  await page.goto(`${served.url}/lamplighter/loops/height`)
  await expect(crossover(page)).toBeVisible()
  const killed = served.killServer()
  await setCrossover(page, '4.6')
  await killed
  await saved(page)
  await page.reload()
  await expect(crossover(page)).toContainText('4.6')
})

test('a document beyond what a closing page may send is saved all the same', async ({ page, served }) => {
  await page.goto(`${served.url}/lamplighter/machine`)
  const project = `${served.url}/api/projects/lamplighter`
  const { document, revision } = (await (await page.request.get(project)).json()) as {
    document: { parameters: object }
    revision: number
  }
  const parameters = Object.fromEntries(
    Array.from({ length: 1500 }, (_, i) => [`p${i}`, { kind: 'parameter', value: i, unit: 'kg', note: 'x'.repeat(40) }]),
  )
  const data = {
    revision,
    label: 'Grow',
    save: 'grown-by-a-test',
    follows: [],
    document: { ...document, parameters: { ...document.parameters, ...parameters } },
  }
  expect(JSON.stringify(data).length).toBeGreaterThan(100_000)
  expect((await page.request.put(project, { data })).status()).toBe(200)
  await page.goto(`${served.url}/lamplighter/loops/height`)
  await setCrossover(page, '3.9')
  await saved(page)
  await page.reload()
  await expect(crossover(page)).toContainText('3.9')
  expect(((await (await page.request.get(project)).json()) as { revision: number }).revision).toBe(revision + 2)
})

test('letters typed into an open slot outlive the page', async ({ context, served }) => {
  const page = await context.newPage()
  await page.goto(`${served.url}/lamplighter/loops/height`)
  await crossover(page).click()
  await page.getByRole('textbox').fill('3.14')
  await page.waitForTimeout(600) // a hand that rests
  await page.close({ runBeforeUnload: false })
  const next = await context.newPage()
  await next.goto(`${served.url}/lamplighter/loops/height`)
  await expect(next.getByRole('textbox')).toHaveValue('3.14')
  await next.keyboard.press('Enter')
  await saved(next)
  await expect(crossover(next)).toContainText('3.14')
})

test('a run made while the server is away is delivered, and found by another browser', async ({ page, browser, served }) => {
  await page.goto(`${served.url}/lamplighter/trials/galleryRise`)
  await expect(page.getByRole('button', { name: /^Run/ })).toBeVisible()
  served.stopDatabase()
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByText(/1 run on the way/)).toBeVisible()
  await page.reload().catch(() => undefined)
  await served.startDatabase()
  await page.goto(`${served.url}/lamplighter/trials/galleryRise`)
  const runs = async () => (await (await page.request.get(`${served.url}/api/projects/lamplighter/runs`)).json()) as unknown[]
  await expect.poll(async () => (await runs()).length, { timeout: 30_000 }).toBe(1)
  await expect(page.getByText(/on the way/)).toHaveCount(0)
  const other = await browser.newPage()
  await other.goto(`${served.url}/lamplighter/trials/galleryRise`)
  await expect(other.getByRole('button', { name: 'Save the run as CSV' })).toBeEnabled()
  await other.close()
})

test('history brings a state back, runs and projects go and come', async ({ page, served }) => {
  await page.goto(`${served.url}/lamplighter/loops/height`)
  await setCrossover(page, '3.3')
  await saved(page)
  await page.locator('[data-saving]').click()
  await page.getByRole('button', { name: 'name of revision 1: no name' }).click()
  await page.getByRole('textbox', { name: 'name of revision 1' }).fill('As it came')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'name of revision 1: As it came' })).toBeVisible()
  await page.getByRole('button', { name: 'Bring back revision 1' }).click()
  await expect(crossover(page)).not.toContainText('3.3')
  await saved(page)
  await page.keyboard.press('Control+z')
  await expect(crossover(page)).toContainText('3.3')
  await saved(page)
  await page.locator('[data-saving]').click()
  await page.getByRole('tab', { name: 'This project' }).click()
  await page.getByRole('button', { name: 'Put it into the bin' }).click()
  await expect(page.getByRole('region', { name: 'Bin' })).toContainText('Lamplighter')
  await page.getByRole('button', { name: 'Take Lamplighter back' }).click()
  await expect(page.getByRole('link', { name: /^Lamplighter/ }).first()).toBeVisible()
})

test('a tab killed during a run loses no work', async ({ context, served }) => {
  const page = await context.newPage()
  await page.goto(`${served.url}/lamplighter/loops/height`)
  await setCrossover(page, '4.1')
  await saved(page)
  await page.keyboard.press('3')
  await page.getByRole('button', { name: /^Run/ }).click()
  await page.close({ runBeforeUnload: false })
  const next = await context.newPage()
  await next.goto(`${served.url}/lamplighter/loops/height`)
  await expect(crossover(next)).toContainText('4.1')
})

test('a run that diverges says when and which state, and keeps its record', async ({ page, served }) => {
  await page.goto(`${served.url}/lamplighter/loops/climbRate`)
  await page.getByRole('button', { name: 'Take over the gains' }).click()
  for (const [label, value] of [
    [/^proportional gain/, '-4000'],
    [/^integral gain/, '-400'],
  ] as const) {
    await page.getByRole('button', { name: label }).click()
    await page.getByRole('textbox').fill(value)
    await page.keyboard.press('Enter')
  }
  await expect(page.getByText(/^Unstable: /)).toBeVisible()
  await page.keyboard.press('3')
  for (const layer of ['Drive limits', 'Air']) await page.getByRole('switch', { name: layer }).click()
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByText(/Diverged at/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Save the run as CSV' })).toBeEnabled()
})

test('an unknown project and an unknown address say where to go', async ({ page, served }) => {
  await page.goto(`${served.url}/nobody/loops`)
  await expect(page.getByText('There is no project named nobody.')).toBeVisible()
  await page.getByRole('link', { name: 'To the Yard' }).first().click()
  await expect(page.getByRole('link', { name: /Lamplighter/ })).toBeVisible()
})
