import { describe, expect, it } from 'vitest'
import { designRealism, massProperties, numbersOf } from '../machine'
import { continuousPoles } from '../linear'
import { lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { linearLifter, linearMachine, still } from './index'

const machine = lamplighter().machines.lamplighter!
const dragged = new Set([...designRealism, 'drag' as const])
const read = numbersOf(machine)
const [mass, gravity, drag] = [massProperties(machine, read).mass as number, read('gravity') as number, read('drag') as number]

describe('a lifter about steady flight', () => {
  it('leans into the wind of its flight by drag over weight: force balance', () => {
    const { operatingPoint } = expectDone(linearLifter(machine, dragged, { heading: 0, velocity: [6, 0, 0] }))
    const lean = Math.atan2(drag * 6, mass * gravity)
    expect(operatingPoint.held.pitch).toBeNear(lean, { relative: 1e-9 })
    expect(operatingPoint.pushes.lift).toBeNear(Math.hypot(drag * 6, mass * gravity), { relative: 1e-9 })
    expect(operatingPoint.held.eastRate).toBe(6)
    expect(operatingPoint.residual).toBeLessThan(1e-9)
  })

  it('rolls and pitches as its heading says for the same flight', () => {
    const { operatingPoint } = expectDone(linearLifter(machine, dragged, { heading: Math.PI / 2, velocity: [6, 0, 0] }))
    // its nose to the north: flying east is flying to its right
    expect(operatingPoint.held.roll).toBeNear(Math.atan2(drag * 6, mass * gravity), { relative: 1e-9 })
    expect(operatingPoint.held.pitch).toBeNear(0, { absolute: 1e-9 })
    expect(operatingPoint.held.heading).toBeNear(Math.PI / 2, { relative: 1e-12 })
  })

  it('has the modes of hover whatever it heads, and at any speed where nothing resists (Galileo)', () => {
    const polesOf = (flight: typeof still, layers = dragged) =>
      (continuousPoles(expectDone(linearLifter(machine, layers, flight)).system) ?? []).map(({ re }) => re).sort((a, b) => a - b)
    const hover = polesOf(still)
    expect(polesOf({ heading: 2.1, velocity: [0, 0, 0] })).toBeNear(hover, { absolute: 1e-6 })
    const free = new Set(designRealism)
    expect(polesOf({ heading: -1, velocity: [9, -4, 1] }, free)).toBeNear(polesOf(still, free), { absolute: 1e-6 })
  })

  it('is the linear machine of every design where it hovers', () => {
    const design = expectDone(linearMachine(machine, designRealism))
    expect(expectDone(linearLifter(machine, designRealism, still)).system).toEqual(design.system)
  })

  it('turns a push about its own axes into motion along the way it heads', () => {
    const { system } = expectDone(linearLifter(machine, designRealism, { heading: Math.PI / 2, velocity: [0, 0, 0] }))
    const row = (output: string) => system.c[system.outputs.indexOf(output)]!
    const turn = (axis: string) => system.states.indexOf(`turn.${axis}`)
    const accelerates = (state: string, by: string) => system.a[system.states.indexOf(state)]![turn(by)]!
    // pitching up by its own y pushes it north now, not east
    expect(accelerates('northRate', 'y')).toBeNear(gravity, { relative: 1e-9 })
    expect(accelerates('eastRate', 'y')).toBeNear(0, { absolute: 1e-9 })
    expect(row('pitch')[turn('y')]).toBeNear(1, { relative: 1e-9 })
  })
})
