import { describe, expect, it } from 'vitest'
import type { Part } from '../document'
import { demo, demoNames } from '../tests/demo'
import { bodyPart, jointPart, linearPart, mechanismPart, plausible } from '../tests/parts'
import {
  drives,
  forces,
  fullMechanism,
  layersOfMachine,
  mechanismForm,
  mechanismLayers,
  mechanismMotion,
  numbersOf,
} from './index'
import type { MechanismLayerName } from './index'

const namesOf = (name: string) => layersOfMachine(Object.values(demo(name).machines)[0]!).map((layer) => layer.name)

/** A set that remembers what it was asked for. */
class Asked extends Set<MechanismLayerName> {
  readonly seen = new Set<string>()
  override has(layer: MechanismLayerName): boolean {
    this.seen.add(layer)
    return super.has(layer)
  }
}

/** Layers that the equations of a machine ask about. */
const askedBy = (machine: Part) => {
  const asked = new Asked(fullMechanism)
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const states = form.states.map(({ atRest }) => atRest)
  mechanismMotion(machine, read, asked, form, states, form.inputs.map(() => 0), []) // prettier-ignore
  return asked.seen
}

/** A machine for each kind of force and drive, on a lever. */
const everyEffect = (): Part[] =>
  [...forces, ...drives].map((kind) => {
    const lever = bodyPart(
      1,
      [0.2, 0, 0],
      [0.01, 0.02, 0.02],
      jointPart('turning', 'ground', [0, 0, 1], { axis: [0, 1, 0], start: 0 }),
    )
    const named = { joint: 'lever.angle', body: 'lever', from: 'lever', to: 'ground', battery: '' }
    const part = plausible(kind, { ...named, value: '0', effort: '0' }, () => 0.5)
    const group = forces.includes(kind) ? 'forces' : 'drives'
    return mechanismPart({ lever }, { [group]: { it: part } })
  })

/** Asked whether or not there is a wind, and a ground. */
const always = ['gusts', 'groundEffect']

describe('the layers of a machine', () => {
  it.each([...demoNames.filter((name) => name !== 'pilot-cutter'), 'every kind'])(
    'are those that its equations ask about: %s',
    (name) => {
      const machines = name === 'every kind' ? everyEffect() : Object.values(demo(name).machines)
      for (const machine of machines) {
        const [said, asked] = [layersOfMachine(machine).map((layer) => layer.name as string), askedBy(machine)]
        expect([...asked].filter((layer) => !said.includes(layer) && !always.includes(layer))).toEqual([])
        // drives ask for their limits where they are asked, which is told apart below
        expect(said.filter((layer) => !asked.has(layer) && layer !== 'sensorErrors')).toEqual([])
      }
    },
  )

  it('have each a label, a stand-in, and a kind that says so', () => {
    expect(mechanismLayers.map(({ name }) => name)).toEqual([...fullMechanism])
    for (const { label, standIn } of mechanismLayers) expect(label && standIn).not.toBe('')
  })

  it('are a wind where one blows, and ground effect where there is a ground', () => {
    const [lifter] = Object.values(demo('lamplighter').machines) as [Part]
    const still = layersOfMachine(lifter).map(({ name }) => name)
    expect(still).not.toContain('gusts')
    expect(still).toContain('groundEffect')
    const wind = { kind: 'steadyWind', velocity: [3, 0, 0] }
    const high = { ...lifter, surroundings: { wind } } as unknown as Part
    expect(layersOfMachine(high).map(({ name }) => name)).toContain('gusts')
    expect(layersOfMachine(high).map(({ name }) => name)).not.toContain('groundEffect')
  })

  it('are those that some part of it asks about, in the order people see', () => {
    expect(namesOf('lens-turret')).toEqual(['sensorErrors', 'viscous', 'friction', 'stops', 'driveLimits', 'driveDynamics'])
    expect(namesOf('rock-walker')).toContain('contact')
    expect(namesOf('sprung-cabin')).not.toContain('contact')
  })

  it('without bodies are limits, where there are any', () => {
    const machine = linearPart([[1]], [[1]])
    expect(layersOfMachine(machine)).toEqual([])
    const limited = { ...machine, inputs: { u1: { kind: 'plainInput', unit: '', nominal: 0, most: 1 } } }
    expect(layersOfMachine(limited).map(({ name }) => name)).toEqual(['driveLimits'])
  })
})
