import { describe, expect, it } from 'vitest'
import { designLayers } from '../machine'
import { poles, responseAt } from '../linear'
import { demo, lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { designLoop, linearLayers, plantWith } from './index'

describe('what a loop sees with other layers', () => {
  const document = lamplighter()
  const all = designLayers(document.machines.lamplighter!).all

  it('is the plant of the design where the layers are its own', () => {
    const { model } = expectDone(designLoop(document, 'height'))
    expect(expectDone(plantWith(document, 'height', all)).a).toEqual(model.plant.a)
  })

  it('has a pole at drag over mass with the drag of the air, and loses that of the rotors without their lag', () => {
    const machine = document.machines.lamplighter!
    const drag = (machine as unknown as { drag: number }).drag
    const dragged = poles(expectDone(plantWith(document, 'height', new Set([...all, 'drag' as const]))))!.map(({ re }) => re)
    expect(Math.min(...dragged.map((pole) => Math.abs(pole + drag / 3.4)))).toBeLessThan(1e-3 * drag)
    const quick = expectDone(plantWith(document, 'height', new Set([...all].filter((layer) => layer !== 'rotorLag'))))
    expect(quick.a.length).toBe(expectDone(plantWith(document, 'height', all)).a.length - 1)
  })

  it('is that of another flight: across its nose a lifter no longer pitches eastward', () => {
    const quarter = { heading: Math.PI / 2, velocity: [0, 0, 0] } as const
    const north = expectDone(plantWith(document, 'northSpeed', all, quarter))
    const hover = expectDone(plantWith(document, 'northSpeed', all))
    // the roll loop that northSpeed commands now moves it east: what it holds no longer answers
    const gain = (plant: typeof north) => {
      const { re, im } = responseAt(plant, { re: Math.cos(0.02), im: Math.sin(0.02) })![0]![0]!
      return Math.hypot(re, im)
    }
    expect(gain(north)).toBeLessThan(1e-6 * gain(hover))
  })

  it('can leave out what a mechanism has in its linear form', () => {
    const turret = demo('lens-turret')
    const names = linearLayers(Object.values(turret.machines)[0]!).map(({ name }) => name)
    expect(names.length).toBeGreaterThan(0)
    const own = designLayers(Object.values(turret.machines)[0]!).all
    const without = expectDone(plantWith(turret, 'pan', new Set([...own].filter((layer) => layer !== names[0]))))
    expect(without.a).not.toEqual(expectDone(plantWith(turret, 'pan', own)).a)
  })
})
