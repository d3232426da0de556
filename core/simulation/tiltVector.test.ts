import { describe, expect, it } from 'vitest'
import { checkDocument } from '../index'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { designLoop } from '../tuning'
import { lampCascade } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile, findColumn, start } from './index'

const document = lampCascade()
const flown = (of: Document, trial = 'turnAndCross') => {
  const record = start(
    expectDone(compile(of, trial, { layers: new Set(['sampling', 'driveDynamics', 'driveLimits', 'air']) })),
  ).run({
    trial,
    layers: [],
    seed: 1,
  })
  return { ...record, at: (name: string) => findColumn(record, name)! }
}

/** The same cascade on roll and pitch, which only mean north and east while it heads as it was built. */
const byAngles = ['tiltEast', 'tiltNorth'].reduce(
  (changed, loop, i) => replaceAt(changed, `loops.${loop}.holds`, ['readings.attitude.roll', 'readings.attitude.pitch'][i]),
  document,
)

describe('tilt held as one vector', () => {
  it('has the gains of roll and pitch, which it is about rest', () => {
    for (const loop of ['tiltEast', 'tiltNorth', 'northSpeed', 'east'])
      expect(expectDone(designLoop(document, loop)).gains.kp).toBeNear(expectDone(designLoop(byAngles, loop)).gains.kp, {
        relative: 1e-9,
      })
  })

  it('crosses over with its nose turned by more than a quarter, where roll and pitch drive it away', () => {
    const turned = flown(document)
    expect(turned.at('lamplighter.readings.attitude.heading').at(-1)).toBeNear((110 * Math.PI) / 180, { absolute: 1e-2 })
    for (const [quantity, asked] of [
      ['east', -4.5],
      ['north', 3],
      ['height', 3.4],
    ] as const)
      // prettier-ignore
      expect(turned.at(`lamplighter.readings.place.${quantity}`).at(-1)).toBeNear(asked, { absolute: 0.05 })
    const angles = flown(byAngles)
    expect(Math.abs(angles.at('lamplighter.readings.place.east').at(-1)! + 4.5)).toBeGreaterThan(1)
  })

  it('is the same flight whatever way it heads, with no moment that knows of heading', () => {
    // the same crossing with the nose at rest: paths agree but for the machine's own lopsidedness
    const still = replaceAt(document, 'trials.turnAndCross.cues.turn.by', 0)
    const [one, other] = [flown(document), flown(still)]
    const [a, b] = ['lamplighter.readings.place.east', 'lamplighter.readings.place.east'].map((name, i) =>
      [one, other][i]!.at(name),
    )
    a!.forEach((value, k) => expect(value).toBeNear(b![k]!, { absolute: 0.03 }))
  })

  it('explains two loops of one vector that cannot turn it together', () => {
    const outcome = checkDocument(replaceAt(document, 'loops.tiltNorth.rate', 100))
    expect(outcome).toMatchObject({
      kind: 'refused',
      problems: [{ where: 'loops.tiltNorth.rate', what: /one vector/, remedy: /200 Hz/ }],
    })
    const uneven = replaceAt(
      replaceAt(document, 'loops.tiltNorth.pushes', 'pushes.pitchMoment'),
      'loops.pitchRate.pushes',
      'pushes.lift',
    )
    const problems = checkDocument(uneven)
    expect(problems.kind === 'refused' && problems.problems.some(({ what }) => /pushes through more loops/.test(what))).toBe(true)
  })
})
