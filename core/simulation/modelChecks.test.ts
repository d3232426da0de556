import { describe, expect, it } from 'vitest'
import { partsIn, replaceAt } from '../document'
import type { Document } from '../document'
import { coordinateNames, mechanism } from '../machine'
import { demo, demoNames } from '../tests/demo'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { modelReport } from './index'

const mechanisms = demoNames
  .map((name) => ({ name, machine: Object.values(demo(name).machines)[0]! }))
  .filter(({ machine }) => machine.kind === mechanism.name)

const machineOf = (name: string) => mechanisms.find((one) => one.name === name)!.machine
const made = new Map<string, ReturnType<typeof modelReport>>()
const report = (name: string) => {
  const found = made.get(name) ?? modelReport(machineOf(name))
  made.set(name, found)
  return found
}

describe.each(mechanisms)('the demo machine $name', ({ name, machine }) => {
  const made = report(name)

  it('passes its checks and rests', () => {
    expect(made.checks.filter(({ holds }) => !holds)).toEqual([])
    expect(made.point.kind).toBe('done')
    expect(made.swing.ending.kind).toBe('finished')
  })

  it('is held still by drives within their limits', () => {
    if (made.point.kind !== 'done') throw new Error('It rests.')
    for (const { name, value } of made.point.value.inputs) {
      const drive = partsIn(machine.drives)[name.replace('drives.', '')]!
      expect(Math.abs(value)).toBeLessThan((drive.most ?? drive.voltage) as number)
    }
  })

  it('has drives on joints that it has', () => {
    const driven = Object.values(partsIn(machine.drives)).flatMap(({ joint }) => (joint === undefined ? [] : [joint]))
    expect(driven.filter((joint) => !coordinateNames(machine).includes(joint as string))).toEqual([])
  })
})

describe('model reports', () => {
  it('count the freedoms that an engineer counts', () => {
    const freedoms = Object.fromEntries(mechanisms.map(({ name }) => [name, report(name).freedoms]))
    expect(freedoms).toEqual({
      'boarding-ramp': 3,
      'boat-shed-arm': 6,
      derrick: 5,
      lamplighter: 6,
      'lens-float': 1,
      'lens-turret': 2,
      'rock-walker': 25,
      porter: 9,
      'slip-tractor': 7,
      'sprung-cabin': 2,
    })
  })

  it('find the sway of the hanging load slow and damped', () => {
    const made = report('derrick')
    if (made.point.kind !== 'done') throw new Error('The derrick rests.')
    const swaying = made.point.value.modes.filter(({ frequency }) => frequency > 0)
    expect(swaying).toHaveLength(2)
    // a pendulum of the rope's length and half the load's height swings at sqrt(g/3.2), and faster where what it hangs
    // on is free to give way (common practice)
    for (const { frequency } of swaying) {
      expect(frequency / Math.sqrt(9.80665 / 3.2)).toBeGreaterThan(1)
      expect(frequency / Math.sqrt(9.80665 / 3.2)).toBeLessThan(2.2)
    }
  })

  it('find the lens under its magnet unstable, with the pole of the closed form', () => {
    const made = report('lens-float')
    if (made.point.kind !== 'done') throw new Error('The lens balances.')
    // sqrt(2 g / gap), less what little air resists
    const most = Math.max(...made.point.value.modes.map(({ pole }) => pole.re))
    expect(most).toBeNear(Math.sqrt((2 * 9.80665) / 0.018), { relative: 0.001 })
  })

  it('say what carries the walker: all of its weight, on six feet', () => {
    const made = report('rock-walker')
    if (made.point.kind !== 'done') throw new Error('The walker stands.')
    const first = (name: string) => made.swing.columns.find((column) => column.name === name)!.values[0]!
    expect(first('forces.leftFrontFoot.normal')).toBeGreaterThanOrEqual(0)
    expect(made.point.value.residual).toBeLessThan(1e-9)
  })

  it('say that a body without a hold has no resting point', () => {
    const made = modelReport(
      mechanismPart({ stone: bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('free', 'ground', [0, 0, 5])) }),
    )
    expect(made.point.kind).toBe('refused')
    expect(made.checks.map(({ name }) => name)).not.toContain('Rests')
  })

  it('count energy that friction takes as lost, not as drift', () => {
    const made = report('boat-shed-arm')
    const lost = made.swing.columns.find(({ name }) => name === 'energy.lost')!.values.at(-1)!
    expect(lost).toBeGreaterThan(1)
    expect(made.checks.find(({ name }) => name === 'Energy drift')!.value).toBeLessThan(1e-5)
  })
})

describe('a change of one number', () => {
  it('changes what holds the machine still, as the lever arm says', () => {
    const light = report('boarding-ramp')
    const document = replaceAt<Document>(demo('boarding-ramp'), 'machines.ramp.bodies.foot.mass', 2.9)
    const heavy = modelReport(document.machines.ramp!)
    if (light.point.kind !== 'done' || heavy.point.kind !== 'done') throw new Error('Both rest.')
    const fold = (one: typeof light.point.value) => one.inputs.find(({ name }) => name === 'drives.foldDrive')!.value
    // 1 kg more at the foot: 2.04 m out along the leaf and 0.04 m beside it, the leaf 10° below level
    const angle = (-10 * Math.PI) / 180
    const arm = 2.04 * Math.cos(angle) + 0.04 * Math.sin(angle)
    expect(fold(heavy.point.value) - fold(light.point.value)).toBeNear(9.80665 * arm, { relative: 1e-4 })
  })
})
