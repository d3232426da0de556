import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { designPoint } from '../control'
import { partsIn } from '../document'
import type { Part } from '../document'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { assemble, findSeatAxes, freeBodies, fullMechanism, numbersOf, resultant, seatPose, bodyPoses } from './index'
import type { BodyLoad } from './index'
import { bodiesOf } from './linkedBody'

const restOf = (machine: Part) => expectDone(designPoint(machine))
const loadsOf = (machine: Part) => freeBodies(machine, fullMechanism, restOf(machine))

describe('the free body of a part', () => {
  it('of a held bar has its weight, and the hinge carries it with the torque of the drive', () => {
    // 4 kg at 0.5 m, level: 39.2 N and 19.6 N·m
    const bar = bodyPart(4, [0.5, 0, 0], [0.1, 0.2, 0.2], jointPart('turning', 'ground', [0, 0, 1], { axis: [0, 1, 0] }))
    const machine = mechanismPart({ bar }, { drives: { motor: { kind: 'effortDrive', joint: 'bar.angle', most: 50 } } })
    const [weight, hinge] = loadsOf(machine).get('bar')!
    expect(weight).toMatchObject({ from: 'weight', at: [0.5, 0, 1], moment: [0, 0, 0] })
    expect(weight!.force).toBeNear([0, 0, -4 * 9.80665], { absolute: 1e-12 })
    expect(hinge).toMatchObject({ from: 'ground', sort: 'joint', at: [0, 0, 1] })
    expect(hinge!.force).toBeNear([0, 0, 4 * 9.80665], { absolute: 1e-9 })
    expect(hinge!.moment).toBeNear([0, -2 * 9.80665, 0], { absolute: 1e-9 })
  })

  it('leaves out what pushes nothing', () => {
    const bar = bodyPart(4, [0.5, 0, 0], [0.1, 1, 1], jointPart('turning', 'ground', [0, 0, 1], { axis: [0, 1, 0] }))
    const box = { kind: 'airDrag', body: 'bar', at: [0, 0, 0], linear: 1, quadratic: 1 }
    const machine = mechanismPart(
      { bar },
      { forces: { box }, drives: { motor: { kind: 'effortDrive', joint: 'bar.angle', most: 50 } } },
    )
    expect(
      loadsOf(machine)
        .get('bar')!
        .map(({ from }) => from),
    ).toEqual(['weight', 'ground'])
  })

  it('of two bars shows what one does to the other, once each way', () => {
    const hinge = (on: string, at: [number, number, number]) =>
      bodyPart(2, [0.25, 0, 0], [0.1, 0.2, 0.2], jointPart('turning', on, at, { axis: [0, 1, 0] }))
    const drive = (joint: string) => ({ kind: 'effortDrive', joint, most: 50 })
    const machine = mechanismPart(
      { upper: hinge('ground', [0, 0, 1]), fore: hinge('upper', [0.5, 0, 0]) },
      { drives: { shoulder: drive('upper.angle'), elbow: drive('fore.angle') } },
    )
    const all = loadsOf(machine)
    const onFore = all.get('fore')!.find(({ from }) => from === 'upper')!
    const onUpper = all.get('upper')!.find(({ from }) => from === 'fore')!
    expect(onUpper.force).toBeNear(
      onFore.force.map((value) => -value),
      { absolute: 1e-12 },
    )
    expect(onUpper.moment).toBeNear(
      onFore.moment.map((value) => -value),
      { absolute: 1e-12 },
    )
  })

  const mechanisms = ['boarding-ramp', 'derrick', 'lens-turret', 'boat-shed-arm', 'sprung-cabin', 'lens-float', 'rock-walker']
  const machineOf = (name: string) => Object.values(expectDone(checkDocument(demo(name))).resolved.machines)[0]!

  it.each(mechanisms)('is in balance for every body of %s', (name) => {
    for (const [body, loads] of loadsOf(machineOf(name))) {
      const { force, moment } = resultant(loads, [0, 0, 0])
      expect([body, ...force, ...moment].slice(1)).toBeNear([0, 0, 0, 0, 0, 0], { absolute: 1e-4 })
    }
  })

  // those with joints that nothing moves but drives of plain efforts
  it.each(['boarding-ramp', 'derrick', 'sprung-cabin'])(
    'carries along a freedom what its drives give, or nothing: %s',
    (name) => {
      const machine = machineOf(name)
      const { states, inputs, form } = restOf(machine)
      const assembly = assemble(machine, numbersOf(machine))
      const poses = bodyPoses(assembly.tree, states.slice(0, assembly.positions.length))
      const pushed = JSON.stringify([machine.forces, coupledOf(machine)])
      const drives = Object.entries(partsIn(machine.drives))
      let looked = 0
      for (const [body, loads] of loadsOf(machine)) {
        const { joint } = bodiesOf(machine)[body]!
        const { kind, on } = joint
        const own = drives.filter(([, drive]) => (drive.joint as string | undefined)?.startsWith(`${body}.`))
        const isPlain = own.every(([, drive]) => drive.kind === 'effortDrive')
        if (!(kind === 'turning' || kind === 'sliding') || !isPlain || pushed.includes(`"${body}.`)) continue
        const given = own.map(([drive]) => inputs[form.inputs.findIndex((input) => input.name === `drives.${drive}`)]!)
        const { rotation } = seatPose(assembly.seats.get(body)!, poses)
        const [axis] = findSeatAxes(joint)
        const turned = rotation.map((row) => row.reduce<number>((sum, value, i) => sum + (value as number) * axis![i]!, 0))
        const carried = loads.find((load: BodyLoad) => load.sort === 'joint' && load.from === on)
        const load = carried === undefined ? [0, 0, 0] : kind === 'turning' ? carried.moment : carried.force
        const along = load.reduce((sum, value, i) => sum + value * turned[i]!, 0)
        expect(along).toBeNear(
          given.reduce((sum, value) => sum + value, 0),
          { absolute: 1e-5 },
        )
        looked++
      }
      expect(looked).toBeGreaterThan(0)
    },
  )
})

/** Joints that are coupled push one another. */
function coupledOf(machine: Part): Part[] {
  return Object.values(partsIn(machine.chains)).filter(({ kind }) => kind === 'coupled')
}
