import { describe, expect, it } from 'vitest'
import { replaceAt } from '../document'
import { blankPart, findKind } from '../kinds'
import { demo } from '../tests/demo'
import { effects } from './effects'
import { mechanismSensors } from './mechanismSensors'
import { coordinateNames, freshNumbers, machineProblems } from './index'

const kinds = ['effortDrive', 'dcMotor', 'gearMotor', 'sheetMotor', 'firstOrderServo', 'servo', 'jointStops', 'jointSpring', 'jointFriction'] // prettier-ignore

describe('a new part', () => {
  it.each(['boarding-ramp', 'boat-shed-arm', 'derrick', 'lens-turret'])(
    'of %s has numbers that it can be used with at once',
    (name) => {
      const part = Object.values(demo(name).machines)[0]!
      for (const joint of coordinateNames(part).slice(0, 2))
        for (const kind of kinds) {
          const numbers = freshNumbers(part, kind, joint)
          const made = blankPart(findKind(effects, { kind })!, { joint, ...numbers })
          const group = /Drive|Motor|Servo/.test(kind) ? 'drives' : 'forces'
          expect(machineProblems('m', replaceAt(part, `${group}.fresh`, made))).toEqual([])
        }
    },
  )

  it('lets a drive hold the machine it is made for, whatever its size', () => {
    // an arm of m at half a length l needs m g l/2 at most (lever arm times weight); three times m g l is asked here
    for (const scale of [0.01, 1, 100]) {
      const joint = { kind: 'turning', on: 'ground', at: [0, 0, 0], axis: [0, 1, 0], start: 0.3 }
      const bodies = {
        arm: { kind: 'linkedBody', mass: 2 * scale, centre: [0.5, 0, 0], inertia: [1, 1, 1, 0, 0, 0], joint, shapes: {} },
      }
      const { most } = freshNumbers({ kind: 'mechanism', gravity: 9.80665, bodies }, 'effortDrive', 'arm.angle')
      const weight = 2 * scale * 9.80665 * 0.5
      expect(most).toBeGreaterThan(2 * weight)
      expect(most).toBeLessThan(10 * weight)
      // a spring swings gently, and dies out in a few swings: both go with the weight
      const { stiffness, damping } = freshNumbers({ kind: 'mechanism', gravity: 9.80665, bodies }, 'jointSpring', 'arm.angle')
      expect(stiffness! / weight).toBeGreaterThan(1)
      expect(damping! / stiffness!).toBeGreaterThan(0.02)
      expect(damping! / stiffness!).toBeLessThan(0.5)
    }
  })

  it('puts stops and springs about where the joint starts', () => {
    const ramp = Object.values(demo('boarding-ramp').machines)[0]!
    const { least, most } = freshNumbers(ramp, 'jointStops', 'innerLeaf.angle')
    const { rest } = freshNumbers(ramp, 'jointSpring', 'innerLeaf.angle')
    expect(least).toBeLessThan(rest!)
    expect(most).toBeGreaterThan(rest!)
  })

  it('samples as sensors do, not once a second', () => {
    for (const { name } of mechanismSensors) expect(freshNumbers({ kind: 'mechanism', bodies: {} }, name, '').rate).toBe(200)
  })
})
