import { describe, expect, it } from 'vitest'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { actingIn, compile, findColumn, layerNamesOn, rowAt, start } from './index'

const run = (document: Document, trial: string) =>
  start(expectDone(compile(document, trial))).run({ trial, layers: layerNamesOn(document.trials[trial]!), seed: 1 })

describe('what acts in a run', () => {
  const lifter = demo('lamplighter')
  const record = run(lifter, 'galleryRise')
  const at = actingIn(lifter, 'galleryRise', record)

  it('is what the record says that drives give, along their axes and where they sit', () => {
    const drives = at(5).filter(({ sort }) => sort === 'drive')
    expect(drives.map(({ label, body }) => `${label} on ${body}`)).toHaveLength(6)
    const row = rowAt(record, 5)
    const thrusts = [1, 2, 3, 4, 5, 6].map((i) => findColumn(record, `lamplighter.drives.rotor${i}.thrust`)![row]!)
    expect(drives.map(({ vector: [x, y, z] }) => [x, y, z])).toEqual(thrusts.map((thrust) => [0, 0, thrust]))
    // what carries a machine that hangs in the air is its weight: common practice, no source
    const { bodies, gravity } = lifter.machines.lamplighter as unknown as {
      bodies: Record<string, { mass: number }>
      gravity: number
    }
    const weight = gravity * Object.values(bodies).reduce((sum, { mass }) => sum + mass, 0)
    const late = at(record.time.at(-1)!).filter(({ sort }) => sort === 'drive')
    expect(late.reduce((sum, { vector }) => sum + vector[2], 0)).toBeNear(weight, { relative: 0.02 })
  })

  it('is a push while it lasts, as high as its course says, and none before and after', () => {
    const push = { kind: 'pushCue', at: 2, over: 1, body: 'hull', shape: 'halfSine', x: 0, y: 3, z: 0, px: 0.1, axes: 'own' }
    const pushed = replaceAt(lifter, 'trials.galleryRise.cues.shove', push)
    const during = actingIn(pushed, 'galleryRise', record)
    const found = (t: number) => during(t).filter(({ sort }) => sort === 'push')
    expect(found(1.9)).toEqual([])
    expect(found(3.01)).toEqual([])
    expect(found(2.5)).toMatchObject([{ body: 'hull', unit: 'N', axes: 'own', at: [0.1, 0, 0] }])
    expect(found(2.5)[0]!.vector[1]).toBeNear(3, { relative: 1e-12 })
    expect(found(2.25)[0]!.vector[1]).toBeNear(3 * Math.SQRT1_2, { relative: 1e-12 })
  })

  it('is no push any more once something has ended it', () => {
    const push = { kind: 'pushCue', at: 2, over: 1, body: 'hull', x: 0, y: 3, z: 0, until: { kind: 'lasting', time: 0.4 } }
    const during = actingIn(replaceAt(lifter, 'trials.galleryRise.cues.shove', push), 'galleryRise', record)
    const pushes = (t: number) => during(t).filter(({ sort }) => sort === 'push')
    expect(pushes(2.3)).toHaveLength(1)
    expect(pushes(2.5)).toEqual([])
  })

  it('is the wind where its layer is on: what blows always and a gust on it', () => {
    const gust = { kind: 'gustCue', at: 2, over: 2, x: 4, y: 0, z: 0 }
    const wind = { kind: 'steadyWind', velocity: [1, 2, 0] }
    const blown = replaceAt(
      replaceAt(lifter, 'machines.lamplighter.surroundings.wind', wind),
      'trials.galleryRise.cues.gust',
      gust,
    )
    const now = actingIn(blown, 'galleryRise', { ...record, layers: [...record.layers, 'gusts'] })
    const windAt = (t: number) => now(t).find(({ sort }) => sort === 'wind')?.vector
    expect(windAt(1)).toEqual([1, 2, 0])
    // 1 - cosine is at its highest in the middle
    expect(windAt(3)).toBeNear([5, 2, 0], { absolute: 1e-12 })
    expect(windAt(2.5)).toBeNear([3, 2, 0], { absolute: 1e-12 })
    const still = actingIn(blown, 'galleryRise', { ...record, layers: record.layers.filter((layer) => layer !== 'gusts') })
    expect(still(3).some(({ sort }) => sort === 'wind')).toBe(false)
  })
})
