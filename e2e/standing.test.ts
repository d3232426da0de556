// A machine of one's own among what stands around: a mesh is given as a file, and its foot lands on it.
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { landMesh, stlOf } from '../core/tests/meshes'
import { expect, test } from './served'

const document = JSON.parse(readFileSync(join(import.meta.dirname, '../core/tests/documents/net-float.json'), 'utf8')) as object

test('a mesh of her own stands in a scene: what is open is told, and the machine lands on what is closed', async ({
  page,
  served,
}) => {
  const made = await page.request.post(`${served.url}/api/projects`, { data: { id: 'net-float', document } })
  expect(await made.text()).toContain('net-float')
  await page.goto(`${served.url}/net-float/trials/drop`)
  const section = page.getByRole('region', { name: 'Scene' })
  await section.getByRole('button', { name: /^scene/ }).click()
  await page.getByRole('menuitemradio', { name: 'a new scene' }).click()
  await section.getByRole('button', { name: 'Add to the scene' }).click()
  await page.getByRole('menuitem', { name: 'mesh', exact: true }).click()

  // without its file there is nothing to run
  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByText(/mesh without a name is not here/).first()).toBeVisible()

  const hills = landMesh(20, 6, -0.5, (x, y) => 0.9 + 0.05 * Math.sin(3 * x) * Math.cos(2 * y))
  const give = (name: string, content: Uint8Array) =>
    section.getByLabel(/Give its file|Another file/).setInputFiles({ name, mimeType: 'model/stl', buffer: Buffer.from(content) })
  await give('open.stl', stlOf(hills, 1))
  await expect(section.getByRole('alert')).toContainText('The mesh is not closed: 3 edges')
  await give('hills.stl', stlOf(hills))
  await expect(section).toContainText('hills.stl')

  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toContainText(/^2.0 s/)
  await expect(page.getByText('Nothing balances float where it starts: it is let go there.')).toBeVisible()
  await page.getByRole('slider', { name: 'Time cursor' }).press('End')

  await page.reload()
  await section.getByText('1 part').click()
  await expect(section).toContainText('hills.stl')
})
