import { describe, expect, it } from 'vitest'
import { changesBetween, withNewName } from './index'
import { replaceAt } from './document'
import { demo } from './tests/demo'

const lifter = demo('lamplighter')
const after = (changes: Readonly<Record<string, unknown>>) =>
  changesBetween(
    lifter,
    Object.entries(changes).reduce((next, [path, value]) => replaceAt(next, path, value), lifter),
  )

describe('what changed between two states of a document', () => {
  it('is nothing where they say the same, also in another order', () => {
    expect(changesBetween(lifter, JSON.parse(JSON.stringify(lifter)) as typeof lifter)).toEqual([])
  })

  it('is a number with what it is of, and its unit', () => {
    expect(after({ 'machines.lamplighter.bodies.hull.mass': 1.8 })).toEqual([
      { path: 'machines.lamplighter.bodies.hull.mass', words: 'mass of hull', sort: 'set', was: 1.652, is: 1.8, unit: 'kg' },
    ])
    expect(after({ 'machines.lamplighter.bodies.hull.centre.2': 0.02 })).toMatchObject([
      { words: 'centre of mass z of hull', was: 0.012, is: 0.02, unit: 'm' },
    ])
  })

  it('is a part that came, went, or became another', () => {
    const gust = { kind: 'gustCue', at: 1, over: 1, x: 1, y: 0, z: 0 }
    expect(after({ 'trials.galleryRise.cues.puff': gust })).toMatchObject([{ words: 'puff of Gallery rise', sort: 'added' }])
    expect(after({ 'loops.height': undefined })).toMatchObject([{ words: 'height', sort: 'removed' }])
    expect(after({ 'trials.galleryRise.realism.gusts': false })).toMatchObject([{ sort: 'set', was: 'on', is: 'off' }])
    const [tuned, ...none] = after({ 'loops.height.tuning': { kind: 'typedGains', kp: 1 } })
    expect(none).toEqual([])
    expect(tuned).toMatchObject({ sort: 'set', is: 'typed gains' })
  })

  it('is one renaming where only a name is another, with what follows from it', () => {
    const renamed = withNewName(lifter, 'machines.lamplighter.forces.drag', 'Hull drag').document
    const changes = changesBetween(lifter, renamed)
    expect(changes.filter(({ sort }) => sort === 'renamed')).toMatchObject([{ was: 'drag', is: 'Hull drag' }])
    expect(changes.some(({ sort }) => sort === 'added' || sort === 'removed')).toBe(false)
  })

  it('is said both ways round', () => {
    const heavier = replaceAt(lifter, 'machines.lamplighter.bodies.hull.mass', 2)
    const [there] = changesBetween(lifter, heavier)
    const [back] = changesBetween(heavier, lifter)
    expect([there!.was, there!.is]).toEqual([back!.is, back!.was])
  })
})
