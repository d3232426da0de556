import { describe, expect, it } from 'vitest'
import { designLayers } from '../machine'
import { poles } from '../linear'
import { demo, farFromGround, lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { designLoop, linearLayers, plantWith } from './index'

describe('what a loop sees with other layers', () => {
  const document = farFromGround(lamplighter())
  const all = designLayers.all

  it('is the plant of the design where the layers are its own', () => {
    const { model } = expectDone(designLoop(document, 'height'))
    expect(expectDone(plantWith(document, 'height', all)).a).toEqual(model.plant.a)
  })

  it('has a pole at drag over mass with the drag of the air, and loses that of the rotors without their lag', () => {
    const machine = document.machines.lamplighter!
    const { linear: drag } = (machine.forces as unknown as Record<string, { readonly linear: number }>).drag!
    const dragged = poles(expectDone(plantWith(document, 'height', all)))!.map(({ re }) => re)
    expect(Math.min(...dragged.map((pole) => Math.abs(pole + drag / 3.4)))).toBeLessThan(1e-3 * drag)
    const quick = expectDone(plantWith(document, 'height', new Set([...all].filter((layer) => layer !== 'driveDynamics'))))
    expect(quick.a.length).toBe(expectDone(plantWith(document, 'height', all)).a.length - 1)
  })

  it('can leave out what a mechanism has in its linear form', () => {
    const turret = demo('lens-turret')
    const names = linearLayers(Object.values(turret.machines)[0]!).map(({ name }) => name)
    expect(names.length).toBeGreaterThan(0)
    const own = designLayers.all
    const without = expectDone(plantWith(turret, 'pan', new Set([...own].filter((layer) => layer !== names[0]))))
    expect(without.a).not.toEqual(expectDone(plantWith(turret, 'pan', own)).a)
  })
})
