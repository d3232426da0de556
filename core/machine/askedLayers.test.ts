import { describe, expect, it } from 'vitest'
import { demo } from '../tests/demo'
import { linearPart } from '../tests/parts'
import { layersOfMachine } from './index'

const namesOf = (name: string) => layersOfMachine(Object.values(demo(name).machines)[0]!).map((layer) => layer.name)

describe('the layers of a machine', () => {
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
