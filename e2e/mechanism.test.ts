import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readFileSync, writeFileSync } from 'node:fs'
import { strToU8, unzipSync, zipSync } from 'fflate'
import type { Page } from '@playwright/test'
import { expect, test, visit } from './served'

const saved = (page: Page) => expect(page.locator('[data-saving="saved"]')).toBeVisible()
const held = (page: Page, drive: string) => page.locator(`[data-input="${drive}"] .number`).first()
const check = (page: Page, name: string) => page.locator(`[data-check="${name}"] .number`)

/** Opens a slot by its label, types, takes. */
async function setSlot(page: Page, label: RegExp, text: string): Promise<void> {
  await page.getByRole('button', { name: label }).first().click()
  const field = page.locator('[data-radix-popper-content-wrapper] input')
  await field.fill(text)
  await field.press('Enter')
}

test('an engineer checks a machine of bodies on joints before controlling it', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))

  await test.step('the Yard draws every machine from its model, and opens the ramp', async () => {
    await page.goto(served.url)
    for (const name of ['Boarding ramp', 'Derrick', 'Lens turret', 'Boat-shed arm', 'Sprung cabin', 'Lens float', 'Rock walker'])
      await expect(
        page
          .getByRole('link', { name: new RegExp(name) })
          .locator('svg path')
          .first(),
      ).toBeVisible()
    await page.getByRole('link', { name: /Boarding ramp/ }).click()
  })

  await test.step('its checks hold, and what holds it still is told', async () => {
    await expect(page.getByText('7 of 7 hold')).toBeVisible()
    await expect(check(page, 'Freedoms')).toHaveText('3')
    await expect(page.getByText(/3 equations said the same twice/)).toBeVisible()
    await expect(held(page, 'foldDrive')).toContainText('259')
    await expect(page.getByText(/fold drive works hardest/)).toBeVisible()
  })

  await test.step('a joint is pulled by keys and put back', async () => {
    const slider = page.getByRole('slider', { name: /^inner leaf/ })
    await slider.focus()
    await page.keyboard.press('ArrowRight')
    await expect(slider).toHaveAttribute('aria-valuetext', /^14\.5/)
    await page.keyboard.press('Shift+ArrowRight')
    await expect(slider).toHaveAttribute('aria-valuetext', /^19\.5/)
    await page.keyboard.press('Escape')
    await expect(slider).toHaveAttribute('aria-valuetext', /^14/)
  })

  await test.step('the rigging chooses a body, and its ledger unfolds', async () => {
    const bead = page.getByRole('button', { name: /^foot, 1\.9 kg/ })
    await bead.focus()
    await page.keyboard.press('Enter')
    await expect(bead).toHaveAttribute('aria-pressed', 'true')
    await setSlot(page, /^mass: 1\.9 kg/, '2900 g')
    // one more kilogram, two metres out
    await expect(held(page, 'foldDrive')).toContainText('279')
    await page.keyboard.press('Control+z')
    await expect(held(page, 'foldDrive')).toContainText('259')
  })

  await test.step('a mode swings in 3D and stops', async () => {
    await page.getByRole('button', { name: 'Play mode 2' }).click()
    await page.getByRole('button', { name: 'Stop the mode' }).click()
  })

  await test.step('a force is added, explained where it is wrong, and removed', async () => {
    await page.getByRole('combobox', { name: 'Add to forces' }).selectOption('airDrag')
    await expect(page.getByText(/The air resists/)).toBeVisible()
    await page.getByRole('button', { name: 'air drag', exact: true }).click()
    await page.getByRole('button', { name: 'air drag', exact: true }).click()
    await page.getByRole('button', { name: 'Remove', exact: true }).first().click()
    await expect(page.getByText(/The air resists/)).toHaveCount(0)
    await saved(page)
  })
  expect(failures).toEqual([])
})

test('an engineer makes a machine of her own', async ({ page, served }) => {
  await page.goto(served.url)

  await test.step('a starter with parameters', async () => {
    await page.getByRole('button', { name: 'New machine' }).click()
    await page.getByRole('button', { name: 'Linkage', exact: true }).click()
    await page.getByRole('textbox', { name: 'Its name' }).fill('Window winder')
    await page.getByRole('button', { name: 'Make it' }).click()
    await expect(page).toHaveURL(/window-winder\/machine/)
    await expect(check(page, 'Freedoms')).toHaveText('1')
  })

  await test.step('a parameter changes every number that uses it', async () => {
    await setSlot(page, /^value: 3/, '6')
    await expect(check(page, 'Total mass')).toHaveText('5.34 kg')
    await setSlot(page, /^value: 0\.42/, '= 3 * crank')
    await expect(check(page, 'Total mass')).toHaveText('5.52 kg')
  })

  await test.step('lengths that cannot close say by how much, and nothing is lost', async () => {
    await setSlot(page, /^value: 0\.5/, '1.5')
    await expect(page.getByText(/The chain pin does not close/).first()).toBeVisible()
    await expect(check(page, 'Total mass')).toHaveText('5.52 kg')
    await page.keyboard.press('Control+z')
    await expect(page.getByText(/The chain pin does not close/)).toHaveCount(0)
  })

  await test.step('an unknown name in a formula is told with its column and the nearest', async () => {
    await page
      .getByRole('button', { name: /^value: 0\.5/ })
      .first()
      .click()
    const field = page.locator('[data-radix-popper-content-wrapper] input')
    await field.fill('= 2 * crnk')
    await expect(page.getByRole('alert').first()).toContainText('column 5')
    await expect(page.getByRole('alert').first()).toContainText('Did you mean crank?')
    await field.press('Escape')
  })

  await test.step('a parameter gets another name, and formulas follow', async () => {
    const name = page.getByRole('textbox', { name: 'Name of linkMass' })
    await name.fill('massPerMetre')
    await page.keyboard.press('Enter')
    await expect(page.locator('[data-parameter="massPerMetre"]')).toBeVisible()
    await expect(check(page, 'Total mass')).toHaveText('5.52 kg')
    await saved(page)
  })

  await test.step('a formula is written with its names completed, its slip marked, and taken by Enter', async () => {
    await page.getByRole('combobox', { name: 'Add to forces' }).selectOption('formulaForce')
    const slot = page.getByRole('button', { name: /^force along x: / })
    await slot.click()
    const field = page.locator('.cm-content')
    await field.fill('-3 * crankLink.angl')
    await expect(page.locator('.cm-lintRange-error')).toHaveText('crankLink.angl')
    await page.keyboard.press('Control+a')
    await page.keyboard.type('-3 * crankLink.an')
    const offer = page.getByRole('option', { name: 'crankLink.angle' })
    await expect(offer).toBeVisible()
    // the first Escape leaves the names, not the slot
    await page.keyboard.press('Escape')
    await expect(offer).toHaveCount(0)
    await page.keyboard.type('g')
    await expect(offer).toBeVisible()
    await page.waitForTimeout(150) // for so long after they came names are not taken, as the key may have been meant otherwise
    await page.keyboard.press('Enter')
    await expect(field).toHaveText('-3 * crankLink.angle')
    await page.keyboard.press('Enter')
    await expect(slot).toHaveText('-3 * crankLink.angle')
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')
    await expect(slot).toHaveCount(0)
  })

  await test.step('a body is added on another, and removed with what hangs on it', async () => {
    await page.getByRole('button', { name: 'Body', exact: true }).click()
    await expect(page.getByText(/4 bodies/).first()).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(page.getByText(/3 bodies/).first()).toBeVisible()
  })

  await test.step('everything is there after a reload', async () => {
    await saved(page)
    await page.reload()
    await expect(check(page, 'Total mass')).toHaveText('5.52 kg')
  })
})

test('a robot description becomes a machine, or says what is wrong with it', async ({ page, served }) => {
  const file = (name: string, text: string) => {
    const path = join(tmpdir(), name)
    writeFileSync(path, text)
    return path
  }
  const robot = (axis: string) => `<robot name="gate">
    <link name="post"/>
    <link name="bar"><inertial><origin xyz="0.6 0 0"/><mass value="7"/>
      <inertia ixx="0.01" ixy="0" ixz="0" iyy="0.9" iyz="0" izz="0.9"/></inertial>
      <visual><origin xyz="0.6 0 0"/><geometry><box size="1.2 0.06 0.06"/></geometry></visual></link>
    <joint name="lift" type="revolute"><parent link="post"/><child link="bar"/><origin xyz="0 0 1"/><axis xyz="${axis}"/>
      <limit lower="-1.4" upper="0.1" effort="80" velocity="2"/><dynamics damping="2"/></joint>
  </robot>`
  await page.goto(served.url)
  await page.getByRole('button', { name: 'New machine' }).click()
  const picker = page.getByLabel('Robot, zip or project')

  await picker.setInputFiles(file('flat.urdf', robot('0 0 0')))
  await expect(page.getByRole('alert')).toContainText('The axis is 0 0 0')

  await picker.setInputFiles(file('macros.urdf', '<robot xmlns:xacro="x"><xacro:gate/></robot>'))
  await expect(page.getByRole('alert')).toContainText('macros')

  await picker.setInputFiles(file('gate.urdf', robot('0 1 0')))
  await page.getByRole('textbox', { name: 'Its name' }).fill('Harbour gate')
  await page.getByRole('button', { name: 'Make it' }).click()
  await expect(page).toHaveURL(/harbour-gate\/machine/)
  await expect(check(page, 'Total mass')).toHaveText('7 kg')
  // 7 kg at 0.6 m
  await expect(held(page, 'lift')).toContainText('-41.2')
  await visit(page, '/')
  await expect(page.getByRole('link', { name: /Harbour gate/ })).toBeVisible()
})

test('a zip of a robot and its meshes is drawn, and goes out and in again as a bundle', async ({ page, served }) => {
  const cube = [0, 1].flatMap((x) => [0, 1].flatMap((y) => [0, 1].map((z) => `v ${x} ${y} ${z}`))).join('\n')
  const faces = ['1 2 4 3', '5 7 8 6', '1 5 6 2', '3 4 8 7', '1 3 7 5', '2 6 8 4'].map((face) => `f ${face}`).join('\n')
  const visual = (mesh: string) =>
    `<visual><geometry><mesh filename="package://hoist/meshes/${mesh}" scale="0.2 0.2 1"/></geometry></visual>`
  const robot = `<robot name="hoist"><link name="foot"/><link name="mast">${visual('mast.obj')}${visual('hook.dae')}</link>
    <joint name="turn" type="continuous"><parent link="foot"/><child link="mast"/><axis xyz="0 0 1"/></joint></robot>`
  const zip = join(tmpdir(), 'hoist.zip')
  writeFileSync(
    zip,
    zipSync({
      'hoist/urdf/hoist.urdf': strToU8(robot),
      'hoist/meshes/mast.obj': strToU8(`${cube}\n${faces}\n`),
      'hoist/meshes/hook.dae': strToU8('<COLLADA/>'),
    }),
  )
  await test.step('what can be read is shown; what cannot is named, with its remedy', async () => {
    await page.goto(served.url)
    await page.getByRole('button', { name: 'New machine' }).click()
    await page.getByLabel('Robot, zip or project').setInputFiles(zip)
    // the mast has no mass yet: it is told at once
    await expect(page.getByRole('alert').first()).toContainText('mast')
  })
  const heavy = robot.replace(
    '<link name="mast">',
    '<link name="mast"><inertial><mass value="1"/><inertia ixx="1" iyy="1" izz="1" ixy="0" ixz="0" iyz="0"/></inertial>',
  )
  writeFileSync(
    zip,
    zipSync({
      'hoist/urdf/hoist.urdf': strToU8(heavy),
      'hoist/meshes/mast.obj': strToU8(`${cube}\n${faces}\n`),
      'hoist/meshes/hook.dae': strToU8('<COLLADA/>'),
    }),
  )
  await test.step('with a mass it is made; its mass then comes from the mesh', async () => {
    await page.getByLabel('Robot, zip or project').setInputFiles([])
    await page.getByLabel('Robot, zip or project').setInputFiles(zip)
    await page.getByLabel('Its name').fill('Hoist')
    await page.getByRole('button', { name: 'Make it' }).click()
    await expect(page).toHaveURL(/hoist\/machine/)
    await expect(page.getByText(/sort \.dae cannot be read/)).toBeVisible()
    await expect(page.getByRole('region', { name: 'Missing meshes' })).toContainText('hook.dae')
    await page.getByRole('button', { name: 'mast', exact: true }).click()
    await page.getByText('Mass from what it is made of').click()
    // 0.2 m by 0.2 m by 1 m of aluminium
    await page.getByRole('button', { name: 'Its shapes: 108 kg' }).click()
    await expect(check(page, 'Total mass')).toHaveText('108 kg')
    await saved(page)
  })
  await test.step('the bundle holds the mesh, and opens elsewhere', async () => {
    await page.keyboard.press('Control+k')
    await page.keyboard.type('Save as a bundle')
    const download = page.waitForEvent('download')
    await page.keyboard.press('Enter')
    const bundle = join(tmpdir(), 'hoist-bundle.zip')
    await (await download).saveAs(bundle)
    expect(Object.keys(unzipSync(readFileSync(bundle))).map((path) => path.replace(/[0-9a-f]{64}/, 'HASH'))).toEqual([
      'document.json',
      'meshes/HASH/mast.obj',
    ])
    await visit(page, '/')
    await page.getByRole('button', { name: 'New machine' }).click()
    await page.getByLabel('Robot, zip or project').setInputFiles(bundle)
    await page.getByLabel('Its name').fill('Second hoist')
    await page.getByRole('button', { name: 'Make it' }).click()
    await expect(page).toHaveURL(/second-hoist\/machine/)
    await expect(check(page, 'Total mass')).toHaveText('108 kg')
  })
})
