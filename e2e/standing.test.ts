// A machine of one's own among what stands around: a mesh is given as a file, and its foot lands on it.
import { landMesh } from '../core/tests/meshes'
import type { Mesh } from '../core/machine'
import { expect, test } from './served'

/** Binary STL: 80 bytes, a count, and a normal, three corners and two bytes a triangle. */
function stl({ vertices, triangles }: Mesh, without = 0): Buffer {
  const count = triangles.length / 3 - without
  const bytes = Buffer.alloc(84 + 50 * count)
  bytes.writeUInt32LE(count, 80)
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 9; k++)
      bytes.writeFloatLE(vertices[3 * triangles[3 * t + Math.floor(k / 3)]! + (k % 3)]!, 84 + 50 * t + 12 + 4 * k)
  return bytes
}

const layers = [
  ...['sampling', 'sensorErrors', 'viscous', 'friction', 'stops', 'driveLimits', 'driveDynamics', 'gears', 'battery'],
  ...['inflow', 'groundEffect', 'air', 'gusts', 'contact'],
]
const document = {
  ...{ format: 'calm-hand', version: 5, title: 'Net float', about: '', note: '', up: '+z', estimators: {}, tray: {}, loops: {} },
  machines: {
    float: {
      ...{ kind: 'mechanism', gravity: 9.80665 },
      bodies: {
        ball: {
          ...{ kind: 'linkedBody', mass: 2, centre: [0, 0, 0], inertia: [0.008, 0.008, 0.008, 0, 0, 0] },
          joint: { kind: 'free', on: 'ground', at: [0, 0, 0.1], turned: [0, 0, 0] },
          shapes: { skin: { kind: 'sphere', at: [0, 0, 0], turned: [0, 0, 0], radius: 0.1 } },
        },
      },
      forces: {
        foot: {
          ...{ kind: 'groundContact', body: 'ball', at: [0, 0, 0], radius: 0.1, level: 0, stiffness: 20_000, damping: 100 },
          ...{ friction: 0.4, smooth: 0.001 },
        },
      },
    },
  },
  trials: {
    drop: {
      ...{ kind: 'trial', title: 'Drop', machine: 'float', cues: {}, after: 2, method: 'adaptive', step: 0.002, seed: 1 },
      ...{ overrides: {}, starts: { high: { kind: 'startNumber', state: 'ball.z', value: 1.5 } } },
      realism: { kind: 'realism', estimator: true, ...Object.fromEntries(layers.map((layer) => [layer, true])) },
      watch: { height: { kind: 'watched', signal: 'float.ball.z' } },
    },
  },
}

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
  const give = (name: string, buffer: Buffer) =>
    section.getByLabel(/Give its file|Another file/).setInputFiles({ name, mimeType: 'model/stl', buffer })
  await give('open.stl', stl(hills, 1))
  await expect(section.getByRole('alert')).toContainText('The mesh is not closed: 3 edges')
  await give('hills.stl', stl(hills))
  await expect(section).toContainText('hills.stl')

  await page.getByRole('button', { name: /^Run/ }).click()
  await expect(page.getByTestId('run-state')).toContainText(/^2.0 s/)
  await expect(page.getByText('Nothing balances float where it starts: it is let go there.')).toBeVisible()
  await page.getByRole('slider', { name: 'Time cursor' }).press('End')

  await page.reload()
  await section.getByText('1 part').click()
  await expect(section).toContainText('hills.stl')
})
