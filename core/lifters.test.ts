import { describe, expect, it } from 'vitest'
import { checkDocument } from './check'
import { findAt, replaceAt } from './document'
import type { Document, Part } from './document'
import { withoutLifters } from './lifters'
import { compile, findColumn, start } from './simulation'
import { demo } from './tests/demo'
import { expectDone } from './tests/expectDone'

const lamplighter = demo('lamplighter')
const change = (parameter: string, how: 'times' | 'set', amount: number) => ({ kind: 'override', parameter, how, amount })
const converted = (document: Document) => expectDone(checkDocument(withoutLifters(document)))

describe('a lifter written as bodies on joints', () => {
  it('leaves what is none alone', () => {
    const derrick = demo('derrick')
    expect(withoutLifters(derrick)).toEqual(derrick)
  })

  it.each(['lamplighter', 'lamplighter-cascade'])('has no problems and nothing odd: %s', (name) => {
    const { document, cautions } = converted(demo(name))
    expect(cautions).toEqual([])
    expect(document.machines.lamplighter!.kind).toBe('mechanism')
    expect(withoutLifters(document)).toEqual(document)
  })

  it('flies with what a trial changed of all rotors and of what it carries', () => {
    // far from the ground, which lifters do not feel, and without noise, whose streams differ
    const changes = {
      thrust: change('rotors.thrustCoefficient', 'times', 0.9),
      load: change('load', 'set', 0.1),
      drag: change('drag', 'times', 3),
    }
    const realism = { ...(lamplighter.trials.galleryRise!.realism as Part), sensorNoise: false, estimator: false }
    const cues = {
      ...(lamplighter.trials.galleryRise!.cues as object),
      over: { kind: 'rampCue', loop: 'east', at: 1, by: -3, over: 3 },
    }
    const loops = Object.entries(lamplighter.loops).map(([name, loop]) => [name, { ...loop, reads: 'true' }])
    const trial = { ...lamplighter.trials.galleryRise!, method: 'fixed', step: 0.0025, realism, overrides: changes, cues }
    const own = {
      ...replaceAt<Document>(lamplighter, 'machines.lamplighter.ground', -1e5),
      loops: Object.fromEntries(loops),
      trials: { galleryRise: trial },
    } as Document
    const [mine, theirs] = [own, withoutLifters(own)].map((document) => {
      const { resolved } = expectDone(checkDocument(document))
      return start(expectDone(compile(resolved, 'galleryRise'))).run({ trial: 'galleryRise', layers: [], seed: 1 })
    })
    const [height, east] = ['height', 'east'].map((name) => findColumn(mine!, `lamplighter.${name}`)!)
    expect(height!.at(-1)!).toBeLessThan(2.2) // too heavy for its feedforward
    expect(Math.abs(east!.at(-1)!)).toBeGreaterThan(1)
    expect([...findColumn(theirs!, 'lamplighter.readings.place.height')!]).toBeNear([...height!], { absolute: 1e-7 })
    expect([...findColumn(theirs!, 'lamplighter.readings.place.east')!]).toBeNear([...east!], { absolute: 1e-7 })
  })

  it('keeps formulas, and follows in laws, cues, watched signals, pinned designs and noise', () => {
    const at = 'machines.lamplighter'
    const written = [
      [
        'parameters',
        { span: { kind: 'parameter', value: 0.72, unit: 'm' }, armLength: { kind: 'parameter', value: 1, unit: 'm' } },
      ],
      [`${at}.rotors.armLength`, '= span / 2'],
      [`${at}.bodies.crate.mass`, '= 0.28 * armLength'],
      ['trials.galleryRise.cues.push', { kind: 'stepCue', loop: 'pushes.lift', at: 2, by: 1 }],
      [
        'trials.galleryRise.watch',
        {
          first: { kind: 'watched', signal: 'lamplighter.climbRate.estimate' },
          second: { kind: 'watched', signal: 'lamplighter.rotor3.thrust' },
        },
      ],
      [
        'trials.galleryRise.overrides',
        {
          noise: change('sensors.inertial.gyroNoise', 'set', 0.01),
          counts: change('rotors.tiltCounts', 'times', 2),
          aside: change('bodies.battery.at.1', 'set', 0.01),
        },
      ],
      ['tray.a', { kind: 'pin', loops: { height: lamplighter.loops.height } }],
    ].reduce((next, [path, value]) => replaceAt<Document>(next, path as string, value), lamplighter)
    const next = withoutLifters(written)
    const of = (path: string) => findAt(next, path)
    expect(of('parameters.armLength')).toMatchObject({ value: 1 })
    expect(of('parameters.lamplighterArmLength')).toMatchObject({ value: '= span / 2' })
    expect(of(`${at}.drives.rotor2.at.1`)).toMatch(/^= 1 \* lamplighterArmLength$/)
    expect(of(`${at}.readings.place.at.2`)).toMatch(/^= .*0\.28 \* armLength/)
    expect(of('trials.galleryRise.cues.push.loop')).toBe('pushes.pushes.lift')
    expect(of('trials.galleryRise.watch.first.signal')).toBe('lamplighter.readings.place.climbRate.estimate')
    expect(of('trials.galleryRise.watch.second.signal')).toBe('lamplighter.drives.rotor3.thrust')
    expect(of('trials.galleryRise.overrides')).toEqual({
      noise: change('sensors.inertial.gyroNoise', 'set', 0.01 * Math.sqrt(2 / 200)),
      aside: change('bodies.battery.centre.1', 'set', 0.01),
    })
    expect(of('tray.a.loops.height')).toMatchObject({ holds: 'readings.place.height', pushes: 'pushes.lift' })
  })
})
