import { describe, expect, it } from 'vitest'
import { multiply } from '../algebra'
import type { Document, Part } from '../document'
import type { StateSpace } from '../linear'
import {
  allocate,
  allocateWithin,
  designLayers,
  machineProblems,
  massProperties,
  numbersOf,
  rotorPlaces,
  spread,
} from '../machine'
import type { AnyLayer } from '../machine'
import { demo, lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { lifterAsMechanism, readingOf } from '../tests/lifterAsMechanism'
import { numbersFrom } from '../tests/randomGraph'
import { inverseProblem, inversePushes, linearEstimators, linearMachine, rateOfPrefix } from './index'

// A lifter of its own kind, and the same as bodies on joints: two ways to every number.
const lifters: readonly (readonly [string, Part])[] = [
  ['Lamplighter', lamplighter().machines.lamplighter!],
  ['Lamp cascade', demo('lamplighter-cascade').machines.lamplighter!],
]
const axes = ['lift', 'rollMoment', 'pitchMoment', 'yawMoment']

describe.each(lifters)('%s as bodies on joints', (_name, lifter) => {
  const machine = lifterAsMechanism(lifter)
  const own = expectDone(linearMachine(lifter, designLayers(lifter).all))
  const layers = new Set<AnyLayer>(['driveDynamics', 'air'])
  const other = expectDone(linearMachine(machine, layers))

  it('has no problems', () => {
    expect(machineProblems('m', machine)).toEqual([])
  })

  it('hovers by the same pushes', () => {
    const { pushes } = other.operatingPoint
    expect(axes.map((axis) => pushes[`pushes.${axis}`]!)).toBeNear(
      axes.map((axis) => own.operatingPoint.pushes[axis]!),
      { absolute: 1e-9 },
    )
  })

  it('answers every push alike: the derivatives of its steps, without end', () => {
    // c b, c a b, c a² b, ...: all there is to know of a linear form
    const derivatives = ({ a, b, c, inputs, outputs }: StateSpace, input: string, seen: readonly string[]) => {
      let column = b.map((row) => [row[inputs.indexOf(input)]!])
      return Array.from({ length: 8 }, () => {
        const shown = multiply(c, column).map(([value]) => value!)
        column = multiply(a, column)
        return seen.map((name) => shown[outputs.indexOf(name)]!)
      })
    }
    const [quantities, readings] = [Object.keys(readingOf), Object.values(readingOf)]
    for (const axis of axes) {
      const [mine, theirs] = [derivatives(own.system, axis, quantities), derivatives(other.system, `pushes.${axis}`, readings)]
      mine.forEach((row, k) => {
        const size = Math.max(...row.map(Math.abs))
        expect(theirs[k]!).toBeNear(row, { absolute: 1e-9 * size + 1e-12 })
        if (k > 1) expect(size).toBeGreaterThan(1)
      })
    }
  })

  it('has the same height filter in its margins', () => {
    const heightFilter = lamplighter().estimators.heightFilter!
    const [mine, theirs] = [lifter, machine].map((one) => {
      const document = { machines: { lamplighter: one }, estimators: { heightFilter } } as unknown as Document
      return linearEstimators(document, 'lamplighter')[0]!
    })
    expect(theirs!.system).toEqual(mine!.system)
    expect(theirs!.estimated).toEqual(mine!.estimated.map((quantity) => readingOf[quantity]))
    expect(theirs!.reads).toEqual([readingOf.height, `${rateOfPrefix}${readingOf.climbRate}`])
  })

  it('asks the same pushes for a motion: through its equations turned round', () => {
    const holds = ['height', 'roll', 'pitch', 'heading']
    const next = numbersFrom(5)
    const around = (size: number) => 2 * size * (next() - 0.5)
    // far from the ground, which a lifter of its own kind does not feel
    const high = lifterAsMechanism({ ...lifter, ground: -1e5 } as unknown as Part)
    const point = expectDone(linearMachine(high, designLayers(high).all)).operatingPoint
    for (let k = 0; k < 5; k++) {
      const motions = [0.5, 0.6, 0.6, 2].map((size): [number, number, number] => [around(size), around(1), around(2)])
      const asked = (name: (holds: string) => string, push: (axis: string) => string) =>
        holds.map((one, i) => ({ holds: name(one), push: push(axes[i]!), motion: motions[i]! }))
      const mine = inversePushes(lifter, numbersOf(lifter), own.operatingPoint, asked((one) => one, (axis) => axis)) // prettier-ignore
      const theirs = inversePushes(high, numbersOf(high), point, asked((one) => readingOf[one]!, (axis) => `pushes.${axis}`)) // prettier-ignore
      expect(theirs as number[]).toBeNear(mine as number[], { absolute: 1e-9 * 40 })
      expect(Math.max(...(mine as number[]).slice(1).map(Math.abs))).toBeGreaterThan(0.01)
    }
    const loops = holds.map((one, i) => ({ holds: readingOf[one]!, push: `pushes.${axes[i]!}` }))
    expect(inverseProblem(high, point, loops)).toBeUndefined()
  })

  it('spreads pushes over its rotors alike, plainly and within their limits', () => {
    const limited = { ...lifter, rotors: { ...(lifter.rotors as Part), allocation: 'leastSquares' } } as unknown as Part
    const { armLength, thrustCoefficient, torqueCoefficient } = lifter.rotors as unknown as Record<string, number>
    const [x, y] = massProperties(lifter, numbersOf(lifter)).centre as readonly number[] as [number, number]
    /** Lift and moments of rotors at these speeds, by hand. */
    const given = (speeds: readonly number[]) =>
      rotorPlaces(speeds.length).reduce(
        ([lift, roll, pitch, yaw], { angle, turns }, i) => {
          const thrust = thrustCoefficient! * speeds[i]! * Math.abs(speeds[i]!)
          const [ahead, left] = [Math.cos(angle) * armLength! - x, Math.sin(angle) * armLength! - y]
          const reaction = (-turns * torqueCoefficient! * thrust) / thrustCoefficient!
          return [lift! + thrust, roll! + left * thrust, pitch! - ahead * thrust, yaw! + reaction]
        },
        [0, 0, 0, 0],
      )
    const next = numbersFrom(17)
    let [met, missed] = [0, 0]
    for (let k = 0; k < 40; k++) {
      const asked = [33 + 40 * (next() - 0.5), 12 * (next() - 0.5), 12 * (next() - 0.5), 2 * (next() - 0.5)]
      const value = (push: string) => asked[axes.indexOf(push.replace('pushes.', ''))]!
      for (const [one, isWithin] of [
        [lifter, false],
        [limited, true],
      ] as const) {
        const before = (isWithin ? allocateWithin : allocate)(one, numbersOf(one), asked) as number[]
        const twin = lifterAsMechanism(one)
        const spreadNow = spread(twin, numbersOf(twin), value, true)
        const now = before.map((_, i) => spreadNow.get(`drives.rotor${i + 1}`) as number)
        expect(given(now)).toBeNear(given(before), { absolute: 1e-9 * 33 })
        // which of the rotors give what is the same too; at limits what all give leaves that open to a millionth and rounding
        expect(now).toBeNear(before, isWithin ? { absolute: 0.01 } : { relative: 1e-12 })
        if (Math.max(...given(now).map((push, i) => Math.abs(push - asked[i]!))) < 1e-9) met++
        else missed++
      }
    }
    expect(Math.min(met, missed)).toBeGreaterThan(10)
  })
})
