import { describe, expect, it } from 'vitest'
import { checkDocument } from '@calm-hand/core'
import type { Part } from '@calm-hand/core/document'
import { modelReport } from '@calm-hand/core/simulation'
import { machineFromUrdf } from '../../workers/fileStart'
import { addressOf, plainMachine, starters, writings } from './newMachine'

describe.each(starters)('the starter $name', ({ load }) => {
  it('has no problems, uses its parameters, and passes its checks', async () => {
    const document = await load()
    const outcome = checkDocument(document)
    expect(outcome).toMatchObject({ kind: 'done', value: { cautions: [] } })
    if (outcome.kind === 'refused') return
    for (const name of Object.keys(document.parameters ?? {}))
      expect(JSON.stringify(document.machines)).toMatch(new RegExp(`= [^"]*\\b${name}\\b`))
    const { checks, point } = modelReport(Object.values(outcome.value.resolved.machines)[0]!)
    expect(checks.filter(({ holds }) => !holds)).toEqual([])
    expect(point.kind).toBe('done')
  })
})

describe('a suspended mass', () => {
  it('rests where it is drawn, because its springs are preloaded by formulas', async () => {
    const starter = starters.find(({ name }) => name === 'Suspended mass')!
    const outcome = checkDocument(await starter.load())
    if (outcome.kind === 'refused') throw new Error('It has no problems.')
    const { point } = modelReport(outcome.value.resolved.machines.suspension!)
    if (point.kind === 'refused') throw new Error('It rests.')
    expect(Math.max(...point.value.q.map(Math.abs))).toBeLessThan(1e-9)
    // body on its spring, about sqrt(k/m); axle between spring and tyre, about sqrt((k + kt)/m): common practice
    const [body, axle] = point.value.modes.map(({ frequency }) => frequency)
    expect(body! / Math.sqrt(17500 / 290)).toBeGreaterThan(0.85)
    expect(body! / Math.sqrt(17500 / 290)).toBeLessThan(1.1)
    expect(axle! / Math.sqrt((17500 + 165000) / 38)).toBeGreaterThan(0.9)
    expect(axle! / Math.sqrt((17500 + 165000) / 38)).toBeLessThan(1.1)
  })
})

describe('other starts', () => {
  it('of one body has no problems', () => {
    expect(checkDocument({ ...plainMachine(), title: 'One' }).kind).toBe('done')
  })

  it('from a robot description keep limits, losses, mimics and efforts', () => {
    const link = (name: string) =>
      `<link name="${name}"><inertial><origin xyz="0.2 0 0"/><mass value="1"/><inertia ixx="0.01" ixy="0" ixz="0" iyy="0.02" iyz="0" izz="0.02"/></inertial></link>`
    const joint = (name: string, parent: string, child: string, more: string) =>
      `<joint name="${name}" type="revolute"><parent link="${parent}"/><child link="${child}"/><axis xyz="0 1 0"/>${more}</joint>`
    const text = `<robot name="r"><link name="root"/>${link('first link')}${link('Second')}
      ${joint('a', 'root', 'first link', '<limit lower="-1" upper="2" effort="30" velocity="3"/><dynamics damping="0.4" friction="0.2"/>')}
      ${joint('b', 'first link', 'Second', '<limit lower="-1" upper="1" effort="9" velocity="3"/><mimic joint="a" multiplier="-2" offset="0.1"/>')}</robot>`
    const made = machineFromUrdf(text)
    if (made.kind === 'refused') throw new Error(JSON.stringify(made.problems))
    const machine = made.value.machines.robot as unknown as Record<
      'bodies' | 'chains' | 'forces' | 'drives',
      Record<string, Part>
    >
    expect(Object.keys(machine.bodies)).toEqual(['root', 'firstLink', 'second'])
    expect(machine.chains.b).toMatchObject({
      kind: 'coupled',
      joint: 'second.angle',
      source: 'firstLink.angle',
      ratio: -2,
      offset: 0.1,
    })
    expect(machine.forces.aStops).toMatchObject({ least: -1, most: 2 })
    expect(machine.forces.aFriction).toMatchObject({ viscous: 0.4, sliding: 0.2 })
    expect(machine.drives).toEqual({ a: { kind: 'effortDrive', joint: 'firstLink.angle', most: 30 } })
    const outcome = checkDocument({ ...made.value, title: 'R' })
    expect(outcome.kind).toBe('done')
    if (outcome.kind === 'done') expect(modelReport(outcome.value.resolved.machines.robot!).freedoms).toBe(1) // the mimic follows
  })

  it.each([
    ['Slip tractor', 'slip-tractor'],
    ['  Élan 2!  ', 'elan-2'],
    ['12 metres', 'machine-12-metres'],
    ['***', 'machine'],
  ])('of %s get the address %s', (title, address) => expect(addressOf(title)).toBe(address))
})

describe('machines that are written down', () => {
  it.each(writings)('as $label: its example makes a machine that passes its checks', ({ document, example, help }) => {
    expect(help).not.toBe('')
    const made = document(example)
    if (made.kind === 'refused') throw new Error(JSON.stringify(made.problems))
    const outcome = checkDocument({ ...made.value, title: 'Written' })
    if (outcome.kind === 'refused') throw new Error(JSON.stringify(outcome.problems))
    const { checks } = modelReport(Object.values(outcome.value.resolved.machines)[0]!)
    expect(checks.filter(({ holds }) => !holds)).toEqual([])
  })

  it.each(writings)('as $label: nonsense is explained', ({ document }) => {
    const made = document('neither rhyme nor reason')
    expect(made.kind === 'refused' && made.problems[0]!.remedy).toBeTruthy()
  })
})
