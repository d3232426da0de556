import { describe, expect, it } from 'vitest'
import { checkDocument } from './check'
import { findAt, partsIn, replaceAt } from './document'
import type { Document, Part } from './document'
import { withNewName } from './index'
import { identifierFrom, labelOf, wordsOf } from './kinds'
import { compile, runHash, watchedSignals, start, verdictsOf } from './simulation'
import { demo, demoNames, lamplighter } from './tests/demo'
import { expectDone } from './tests/expectDone'

describe('names', () => {
  it.each([
    ['leftFrontHip2', 'left front hip 2'],
    ['kp', 'kp'],
    ['gearTorqueKNm', 'gear torque knm'],
  ])('of %s are words', (identifier, words) => expect(wordsOf(identifier)).toBe(words))

  it.each([
    ['Left front hip', 'leftFrontHip'],
    ['Größe 2', 'grosse2'],
    ['Éclisse à rotule', 'eclisseARotule'],
    ['2nd boom', 'part2ndBoom'],
    ['帆', 'part'],
    ['toString', 'partToString'],
  ])('in any letters give an identifier: %s', (words, identifier) => expect(identifierFrom(words, [])).toBe(identifier))

  it('never give one that is taken', () => {
    expect(identifierFrom('Boom', ['boom', 'boom2'])).toBe('boom3')
    expect(identifierFrom('x'.repeat(60), ['x'.repeat(40)])).toHaveLength(40)
  })
})

/** Everything of a document that has a name of its own. */
function named(document: Document): string[] {
  const groups = Object.entries(document.machines).flatMap(([machine, part]) =>
    [
      'bodies',
      'drives',
      'pushes',
      'allocations',
      'readings',
      'forces',
      'chains',
      'sensors',
      'states',
      'inputs',
      'outputs',
    ].flatMap((group) => Object.keys(partsIn(part[group])).map((name) => `machines.${machine}.${group}.${name}`)),
  )
  const own = (group: 'loops' | 'estimators' | 'machines') => Object.keys(document[group]).map((name) => `${group}.${name}`)
  return [...groups, ...own('loops'), ...own('estimators'), ...own('machines')]
}

describe('a new name', () => {
  it.each(demoNames)('is followed by all that names the part, for every part of %s', (name) => {
    const document = demo(name)
    const problems = (of: Document) => {
      const checked = checkDocument(of)
      return checked.kind === 'refused' ? checked.problems : checked.value.cautions
    }
    const before = problems(document).length
    const paths = named(document)
    expect(paths.length).toBeGreaterThan(3)
    // of many of one sort every third
    for (const path of paths.filter((_, i) => paths.length < 20 || i % 3 === 0)) {
      const next = withNewName(document, path, 'Ganz anders Ø')
      expect(next.path.endsWith('.ganzAndersO')).toBe(true)
      expect(labelOf(findAt(next.document, next.path) as Part, 'ganzAndersO')).toBe('Ganz anders Ø')
      expect(problems(next.document)).toHaveLength(before)
      expect(JSON.stringify(next.document)).not.toContain(`"${path.split('.').slice(2).join('.')}"`)
    }
  })

  it.each([
    ['lens-turret', 'passingShip'],
    ['derrick', 'deckToQuay'],
    ['lamplighter', 'turnAndCross'],
    ['pilot-cutter', 'newCourse'],
  ])('of every part changes no run: %s', (name, trial) => {
    const document = demo(name)
    const renamed = named(document).reduce((of, path, i) => {
      const there =
        findAt(of, path) === undefined ? path.replace(/^machines\.[^.]+/, `machines.${Object.keys(of.machines)[0]}`) : path
      return withNewName(of, there, `Stück ${i}`).document
    }, document)
    const flown = (of: Document) => {
      const { resolved } = expectDone(checkDocument(of))
      const short = replaceAt(replaceAt(resolved, `trials.${trial}.after`, 0.1), `trials.${trial}.method`, 'chosen')
      const record = start(expectDone(compile(short, trial))).run({ trial, layers: [], seed: 1 })
      return { ...record, verdicts: verdictsOf(short, trial, record).map(({ outcome }) => outcome) }
    }
    const [one, other] = [flown(document), flown(renamed)]
    expect(other.verdicts).toEqual(one.verdicts)
    expect(one.verdicts.length).toBeGreaterThan(1)
    expect(other.columns.length).toBe(one.columns.length)
    // sums over parts may come in another order
    for (const [i, { values }] of one.columns.entries())
      expect(other.columns[i]!.values).toBeNear([...values], { relative: 1e-9, absolute: 1e-12 })
  })

  it('follows in what a trial changes and watches', () => {
    const turret = demo('lens-turret')
    const override = { kind: 'override', parameter: 'bodies.yoke.mass', how: 'times', amount: 1.1 }
    const cue = { kind: 'stepCue', loop: 'pushes.drives.pan', at: 1, by: 1 }
    const changed = replaceAt(
      replaceAt(replaceAt(turret, 'trials.otherShip.overrides.heavy', override), 'trials.otherShip.watch', {
        turn: { kind: 'watched', signal: 'turret.yoke.angle' },
        error: { kind: 'watched', signal: 'loops.pan.error', from: 1 },
        both: {
          ...{ kind: 'watched', signal: 'loops.pan.command' },
          beside: { asked: { kind: 'watchedBeside', signal: 'loops.pan.reference' } },
        },
        phase: { kind: 'watchedPath', across: 'turret.yoke.angle', up: 'turret.yoke.rate', askedAcross: 'loops.pan.reference' },
      }),
      'trials.otherShip.cues.shove',
      cue,
    )
    const [drive] = Object.entries(partsIn(changed.machines.turret!.drives)).find(([, { joint }]) => joint === 'yoke.angle')!
    const waits = { kind: 'whenHolds', condition: 'turret.yoke.angle > 0.1 and yoke.angle < 2 and loops.pan.error < 1' }
    const pushed = Object.entries({
      'shove.loop': `pushes.drives.${drive}`,
      blow: { kind: 'pushCue', at: 1, body: 'yoke', over: 1, x: 1, y: 0, z: 0, waits },
      heavier: { kind: 'changeCue', at: 1, number: 'bodies.yoke.mass', amount: 2 },
      weak: { kind: 'failureCue', at: 1, part: `drives.${drive}` },
      stuck: { kind: 'stuckFault', at: 1, signal: 'loops.pan.command' },
      lost: { kind: 'lostFault', at: 1, signal: `turret.drives.${drive}.asked` },
    }).reduce((next, [at, value]) => replaceAt(next, `trials.otherShip.cues.${at}`, value), changed)
    expect(checkDocument(pushed).kind).toBe('done')
    const next = [
      ['machines.turret.bodies.yoke', 'Fork'],
      [`machines.turret.drives.${drive}`, 'Pan motor'],
      ['loops.pan', 'Side to side'],
      ['machines.turret', 'Light director'],
    ].reduce((of, [path, words]) => withNewName(of, path!, words!).document, pushed)
    const trial = next.trials.otherShip as unknown as Record<string, Record<string, Part>>
    expect(trial.overrides!.heavy!.parameter).toBe('bodies.fork.mass')
    expect(trial.watch!.turn!.signal).toBe('lightDirector.fork.angle')
    expect(trial.watch!.error!.signal).toBe('loops.sideToSide.error')
    expect(trial.watch!.both).toMatchObject({ beside: { asked: { signal: 'loops.sideToSide.reference' } } })
    expect(watchedSignals(trial.watch!.both!)).toEqual(['loops.sideToSide.command', 'loops.sideToSide.reference'])
    expect(watchedSignals(trial.watch!.phase!)).toEqual([
      'lightDirector.fork.rate',
      'lightDirector.fork.angle',
      'loops.sideToSide.reference',
    ])
    // what is watched changes no run
    expect(runHash(next, 'otherShip')).toBe(runHash(replaceAt(next, 'trials.otherShip.watch', undefined), 'otherShip'))
    expect(trial.cues!.shove!.loop).toBe('pushes.drives.panMotor')
    expect(trial.cues!.blow!).toMatchObject({ body: 'fork', waits: { condition: 'lightDirector.fork.angle > 0.1 and fork.angle < 2 and loops.sideToSide.error < 1' } }) // prettier-ignore
    expect(trial.cues!.heavier!.number).toBe('bodies.fork.mass')
    expect(trial.cues!.weak!.part).toBe('drives.panMotor')
    expect(trial.cues!.stuck!.signal).toBe('loops.sideToSide.command')
    expect(trial.cues!.lost!.signal).toBe('lightDirector.drives.panMotor.asked')
    expect(checkDocument(next).kind).toBe('done')
  })

  it('that only changes letters changes no identifier and no run', () => {
    const turret = demo('lens-turret')
    const { document, path } = withNewName(turret, 'loops.pan', 'Pan')
    expect(path).toBe('loops.pan')
    expect(document.loops.pan!.label).toBe('Pan')
    expect(runHash(document, 'passingShip')).toBe(runHash(turret, 'passingShip'))
    expect(withNewName(document, 'loops.pan', 'pan').document.loops.pan!.label).toBeUndefined()
  })
})

describe('pushes, allocations and readings', () => {
  const { machines } = lamplighter()
  const document = {
    ...demo('lens-float'),
    machines: { lifter: machines.lamplighter! },
    loops: {},
    trials: {},
    tray: {},
  }
  it.each(['drives.rotor3', 'pushes.lift', 'allocations.rotors', 'readings.attitude', 'bodies.hull'])(
    'are followed in lists of names too: %s',
    (path) => {
      expect(checkDocument(document).kind).toBe('done')
      const next = withNewName(document, `machines.lifter.${path}`, 'Quay side')
      expect(next.path).toBe(`machines.lifter.${path.split('.')[0]!}.quaySide`)
      expect(checkDocument(next.document).kind).toBe('done')
      expect(JSON.stringify(next.document)).not.toMatch(new RegExp(`"[^"]*\\b${path.replace('.', '\\.')}\\b`))
    },
  )
})
