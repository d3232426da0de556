import { describe, expect, it } from 'vitest'
import { designLayers } from '../machine'
import { analyse, designLoop, spreadOver } from '../tuning'
import { farFromGround, writtenLamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { multiply } from '../algebra'
import { checkDocument, machinesWithParameters } from '../check'
import { done, partsIn, replaceAt } from '../document'
import { knownAs, linearMachine, withTrueNumbers } from './index'

const written = farFromGround(writtenLamplighter())
const { resolved: document } = expectDone(checkDocument(written))
const machines = expectDone(machinesWithParameters(written, 'lamplighter'))
const machine = document.machines.lamplighter!
const linear = (factors: Record<string, number>) =>
  expectDone(linearMachine(withTrueNumbers(machine, factors), designLayers.withoutLag))
const nominal = linear({})
/** How fast a reading gains from a push at once. */
const effect = ({ system: { b, c, inputs, outputs } }: typeof nominal, push: string, reading: string) =>
  multiply(c, b)[outputs.indexOf(`readings.${reading}`)]![inputs.indexOf(`pushes.${push}`)]!
/** The same share of a number of each rotor. */
const ofAll = (slots: readonly string[], factor: number) =>
  Object.fromEntries(
    Object.keys(partsIn(machine.drives)).flatMap((rotor) => slots.map((slot) => [`drives.${rotor}.${slot}`, factor])),
  )

describe('a lifter whose allocation does not know its true numbers', () => {
  it('gets so much less of every push as its rotors give less, and asks for more to hover', () => {
    const weak = linear(ofAll(['thrust', 'torque'], 0.8))
    const held = weak.operatingPoint.pushes['pushes.lift']! / nominal.operatingPoint.pushes['pushes.lift']!
    expect(held).toBeNear(1 / 0.8, { relative: 1e-9 })
    for (const [push, state] of [
      ['lift', 'place.climbRate'],
      ['rollMoment', 'attitude.rollRate'],
    ] as const)
      expect(effect(weak, push, state) / effect(nominal, push, state)).toBeNear(0.8, { relative: 1e-9 })
  })

  it('turns more by longer arms than it was told of, and hovers as before', () => {
    const long = linear(ofAll(['at.0', 'at.1'], 1.1))
    expect(effect(long, 'rollMoment', 'attitude.rollRate') / effect(nominal, 'rollMoment', 'attitude.rollRate')).toBeNear(1.1, {
      relative: 1e-9,
    })
    expect(long.operatingPoint.pushes['pushes.lift']).toBeNear(nominal.operatingPoint.pushes['pushes.lift']!, { relative: 1e-9 })
  })

  it('asks for the moment of its weight where its centre of mass lies elsewhere: force times arm', () => {
    const hull = machine.bodies as Readonly<
      Record<string, { readonly mass: number; readonly centre: readonly [number, number, number] }>
    >
    const body = Object.keys(hull)[0]!
    const { centre: at } = hull[body]!
    const truth = knownAs(replaceAt(machine, `bodies.${body}.centre`, [at[0] + 0.01, at[1], at[2]]), machine)
    const { pushes } = expectDone(linearMachine(truth, designLayers.withoutLag)).operatingPoint
    const total = Object.values(hull).reduce((sum, { mass }) => sum + mass, 0)
    const aside = (0.01 * hull[body]!.mass) / total
    expect(Math.abs(pushes['pushes.pitchMoment']!)).toBeNear(aside * pushes['pushes.lift']!, { relative: 1e-6 })
    expect(pushes['pushes.rollMoment']).toBeNear(0, { absolute: 1e-9 })
  })

  it('leaves a machine whose software knows the change as it was designed', () => {
    const known = Object.keys(partsIn(machine.drives)).reduce(
      (now, rotor) => replaceAt(now, `drives.${rotor}.thrust`, 0.8 * 1.2e-5),
      machine,
    )
    const told = expectDone(linearMachine(known, designLayers.withoutLag))
    expect(effect(told, 'lift', 'place.climbRate')).toBeNear(effect(nominal, 'lift', 'place.climbRate'), { relative: 1e-9 })
  })

  it('has its loop gain spread with the thrust coefficient', () => {
    const found = expectDone(
      spreadOver(
        document,
        'height',
        ['parameters.thrustCoefficient'],
        0.2,
        () => ({
          ...{
            t: new Float64Array(1),
            held: new Float64Array(1),
            rate: new Float64Array(1),
            push: new Float64Array(1),
            terms: {},
          },
        }),
        ({ 'parameters.thrustCoefficient': factor = 1 }) => {
          const made = machines({ thrustCoefficient: factor })
          return made.kind === 'done' ? done(knownAs(made.value, machine)) : made
        },
      ),
    )
    const design = expectDone(designLoop(document, 'height'))
    const { curve } = analyse(design.model, design.gains)
    for (const i of [0, Math.floor(curve.length / 2)]) {
      expect(found.magnitude.least[i]! / curve[i]!.magnitude).toBeNear(0.8, { relative: 1e-6 })
      expect(found.magnitude.most[i]! / curve[i]!.magnitude).toBeNear(1.2, { relative: 1e-6 })
    }
  })
})
