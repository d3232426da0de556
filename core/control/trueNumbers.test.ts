import { describe, expect, it } from 'vitest'
import { designLayers } from '../machine'
import { analyse, designLoop, spread } from '../tuning'
import { lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { replaceAt } from '../document'
import { knownAs, linearMachine, withTrueNumbers } from './index'

const document = lamplighter()
const machine = document.machines.lamplighter!
const linear = (factors: Record<string, number>) =>
  expectDone(linearMachine(withTrueNumbers(machine, factors), designLayers(machine).withoutLag))
const nominal = linear({})
const effect = ({ system }: typeof nominal, push: string, state: string) =>
  system.b[system.states.indexOf(state)]![system.inputs.indexOf(push)]!

describe('a lifter whose allocation does not know its true numbers', () => {
  it('gets so much less of every push as its rotors give less, and asks for more to hover', () => {
    const weak = linear({ 'rotors.thrustCoefficient': 0.8 })
    const held = weak.operatingPoint.pushes.lift! / nominal.operatingPoint.pushes.lift!
    expect(held).toBeNear(1 / 0.8, { relative: 1e-9 })
    for (const [push, state] of [
      ['lift', 'climbRate'],
      ['rollMoment', 'rollRate'],
    ] as const)
      expect(effect(weak, push, state) / effect(nominal, push, state)).toBeNear(0.8, { relative: 1e-9 })
  })

  it('turns more by longer arms than it was told of, and hovers as before', () => {
    const long = linear({ 'rotors.armLength': 1.1 })
    expect(effect(long, 'rollMoment', 'rollRate') / effect(nominal, 'rollMoment', 'rollRate')).toBeNear(1.1, { relative: 1e-9 })
    expect(long.operatingPoint.pushes.lift).toBeNear(nominal.operatingPoint.pushes.lift!, { relative: 1e-9 })
  })

  it('asks for the moment of its weight where its centre of mass lies elsewhere: force times arm', () => {
    const hull = machine.bodies as Readonly<
      Record<string, { readonly mass: number; readonly at: readonly [number, number, number] }>
    >
    const body = Object.keys(hull)[0]!
    const { at } = hull[body]!
    const truth = knownAs(replaceAt(machine, `bodies.${body}.at`, [at[0] + 0.01, at[1], at[2]]), machine)
    const { pushes } = expectDone(linearMachine(truth, designLayers(machine).withoutLag)).operatingPoint
    const total = Object.values(hull).reduce((sum, { mass }) => sum + mass, 0)
    const aside = (0.01 * hull[body]!.mass) / total
    expect(Math.abs(pushes.pitchMoment!)).toBeNear(aside * pushes.lift!, { relative: 1e-6 })
    expect(pushes.rollMoment).toBeNear(0, { absolute: 1e-9 })
  })

  it('leaves a machine whose software knows the change as it was designed', () => {
    const known = replaceAt(machine, 'rotors.thrustCoefficient', 0.8 * 1.2e-5)
    const told = expectDone(linearMachine(known, designLayers(machine).withoutLag))
    expect(effect(told, 'lift', 'climbRate')).toBeNear(effect(nominal, 'lift', 'climbRate'), { relative: 1e-9 })
  })

  it('has its loop gain spread with the thrust coefficient', () => {
    const found = expectDone(
      spread(document, 'height', ['rotors.thrustCoefficient'], 0.2, () => ({
        ...{ t: new Float64Array(1), held: new Float64Array(1), rate: new Float64Array(1), push: new Float64Array(1), terms: {} },
      })),
    )
    const design = expectDone(designLoop(document, 'height'))
    const { curve } = analyse(design.model, design.gains)
    for (const i of [0, Math.floor(curve.length / 2)]) {
      expect(found.magnitude.least[i]! / curve[i]!.magnitude).toBeNear(0.8, { relative: 1e-6 })
      expect(found.magnitude.most[i]! / curve[i]!.magnitude).toBeNear(1.2, { relative: 1e-6 })
    }
  })
})
