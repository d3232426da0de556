// Which way pushes, laws, cues and estimators go, in cases that a person can check by looking.
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { asCued, estimators, laws } from '../control'
import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import { lamplighter, readingOf } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { typedPart } from '../tests/parts'
import { compile, cues, findColumn, start } from './index'

function flown(document: Document): (name: string) => number[] {
  const { resolved } = expectDone(checkDocument(document))
  const [trial] = Object.keys(resolved.trials) as [string]
  const record = start(expectDone(compile(resolved, trial))).run({ trial, layers: [], seed: 1 })
  return (name) => [...findColumn(record, name)!]
}

/** The lifter without what errs; `changes` by document path. */
function lifter(changes: Readonly<Record<string, unknown>>): (name: string) => number[] {
  const base = lamplighter()
  const [trial] = Object.keys(base.trials) as [string]
  const plain = replaceAt<Document>(replaceAt(base, 'trials', { [trial]: base.trials[trial] }), 'tray', {})
  const all = { [`trials.${trial}.overrides`]: {}, [`trials.${trial}.watch`]: undefined }
  return flown(
    Object.entries({ ...all, ...changes }).reduce<Document>(
      (document, [path, value]) => replaceAt(document, path.replace('TRIAL', `trials.${trial}`), value),
      plain,
    ),
  )
}

describe('which way pushes go', () => {
  // x ahead, y to the left, z up; angles turn as the right hand's fingers about them
  const raises = { lift: 'climbRate', rollMoment: 'rollRate', pitchMoment: 'pitchRate', yawMoment: 'yawRate' } as const

  it.each(Object.entries(raises))('more %s raises its own rate and lowers it when it is less', (name, rate) => {
    const rateAfter = (by: number) => {
      const push = { kind: 'stepCue', loop: asCued(`pushes.${name}`), at: 0.1, by }
      const column = lifter({ 'TRIAL.cues': { push }, 'TRIAL.after': 0.3, loops: {}, estimators: {} })
      return column(`lamplighter.${readingOf[rate]!}`).at(-1)!
    }
    const [more, less, none] = [rateAfter(0.2), rateAfter(-0.2), rateAfter(0)]
    expect(more - none).toBeGreaterThan(1e-4)
    expect(less - none).toBeLessThan(-1e-4)
  })
})

describe('which way laws push', () => {
  const gains = (more: Values = {}) => ({ kind: 'typedGains', kp: 6, ki: 1, kd: 8, ...more })
  const settings: Readonly<Record<string, Values>> = {
    gainSchedule: { signal: 'place', points: [[-5, 6, 0, 8], [5, 6, 0, 8]] }, // prettier-ignore
    stateFeedback: { states: { s: { kind: 'fedBack', signal: 'speed' } } },
    typedLaw: { command: '6 * error', states: {}, constants: {} },
    stateLogic: { states: { go: { kind: 'logicState', command: '6 * error', when: 'error > 1e9', next: 'go' } } },
    onOff: { on: 4, off: 0, above: 0.05, below: -0.05 },
    relay: { amplitude: 4, hysteresis: 0.01 },
  }
  /** A cart with friction, asked to go a metre to the right. */
  const answered = (law: string, by = 1) => {
    const cart = typedPart({ place: ['0', 'speed'], speed: ['0', 'push - 2 * speed'] }, { push: 0 })
    const own = { holds: 'place', pushes: 'push', law: { kind: law, ...settings[law] }, tuning: gains(law === 'stateFeedback' ? { states: [[3]] } : {}) } // prettier-ignore
    return flown(oneMachine(cart, { hold: own }, { cues: { go: { kind: 'stepCue', loop: 'hold', at: 0.5, by } }, after: 2 }))
  }

  it.each(laws)('$name: to the right where it is asked to go there, and back', ({ name }) => {
    const place = answered(name)('m.place')
    expect(place.at(-1)! - place[0]!).toBeGreaterThan(0.05)
    // a switch that knows on and off alone cannot pull
    if (name !== 'onOff') expect(answered(name, -1)('m.place').at(-1)!).toBeLessThan(-0.05)
  })
})

describe('which way cues begin', () => {
  const read = (slot: string) => ({ at: 1, by: 2, over: 1, timeConstant: 0.5, speed: 3, acceleration: 10, jerk: 100, frequency: 4, from: 3, to: 8, 'points.0.0': 0, 'points.0.1': 0, 'points.1.0': 1, 'points.1.1': 2 })[slot]! // prettier-ignore

  it.each(cues.filter(({ value, switchesTo }) => value !== undefined && switchesTo === undefined))(
    '$name: upwards where it is to rise',
    (cue) => {
      expect(cue.value!(1.05, read, { kind: cue.name, points: [[], []] }) as number).toBeGreaterThan(1e-4)
    },
  )
})

describe('which way estimators follow', () => {
  /** How much of what truly happened an estimate shows, by least squares: 1 where it is right, less than 0 where it is turned over. */
  const share = (truth: readonly number[], estimate: readonly number[]) => {
    const product = (a: readonly number[]) => a.reduce((sum, value, k) => sum + (value - a[0]!) * (truth[k]! - truth[0]!), 0)
    return product(estimate) / product(truth)
  }
  const turns = {
    turn: { kind: 'stepCue', loop: 'heading', at: 0.5, by: 0.6 },
    away: { kind: 'stepCue', loop: 'east', at: 1, by: 3 },
  }
  const shareOf = (column: (name: string) => number[], quantity: string) => {
    const name = `lamplighter.${readingOf[quantity]!}`
    return share(column(name), column(`${name}.estimate`))
  }
  const ofLifter = (estimator: Values, quantities: readonly string[], more: Values = {}) => {
    const base = lamplighter()
    const column = lifter({
      ...more,
      ...{ 'TRIAL.cues': turns, 'TRIAL.after': 8, 'loops.heading.reference': 'cue' },
      estimators: { ...base.estimators, it: { machine: 'lamplighter', ...estimator } },
    })
    return quantities.map((name) => shareOf(column, name))
  }
  const assumed = { gyroNoise: 0.004, accelerationNoise: 0.08, driftNoise: 1e-6, fixNoise: 0.4, headingNoise: 0.002, startTilt: 0.01, startSpeed: 0.1, startPlace: 0.2, startDrift: 0.02 } // prettier-ignore
  const cart = (estimator: Values) => {
    const machine = typedPart({ place: ['0', 'speed'], speed: ['0', 'push - 2 * speed'] }, { push: 0 })
    const hold = { holds: 'place', pushes: 'push', reads: 'true', law: { kind: 'pdOnRate' }, tuning: { kind: 'typedGains', kp: 6, ki: 0, kd: 2 } } // prettier-ignore
    const trial = { cues: { go: { kind: 'stepCue', loop: 'hold', at: 0.5, by: 1 } }, after: 3 }
    const column = flown(oneMachine(machine, { hold }, trial, { it: { machine: 'm', ...estimator } }))
    return [share(column('m.place'), column('m.place.estimate'))]
  }
  const shares: Readonly<Record<string, () => number[]>> = {
    heightFilter: () => {
      const rise = { 'TRIAL.cues': { rise: { kind: 'stepCue', loop: 'height', at: 0.5, by: 2 } }, 'TRIAL.after': 5 }
      const column = lifter(rise)
      return ['height', 'climbRate'].map((name) => shareOf(column, name))
    },
    tiltFilter: () => ofLifter({ kind: 'tiltFilter', inertial: 'inertial', timeConstant: 4 }, ['roll', 'pitch']),
    poseFilter: () => {
      const { at: centre } = (lamplighter().machines.lamplighter!.sensors as unknown as Record<string, Part>).inertial!
      return ofLifter(
        { kind: 'poseFilter', inertial: 'inertial', fixes: 'fixes', ...assumed },
        ['roll', 'pitch', 'heading', 'east'],
        {
          'machines.lamplighter.sensors.fixes': { kind: 'positionFix', body: 'hull', at: centre, rate: 5, noise: 0.25 },
        },
      )
    },
    observer: () =>
      cart({ kind: 'observer', rate: 100, disturbance: 0.05, reads: { a: { kind: 'observedSignal', signal: 'place', noise: 0.02 } } }), // prettier-ignore
    lowPassEstimator: () => cart({ kind: 'lowPassEstimator', signal: 'place', corner: 30, rate: 100 }),
  }

  it('is told of every one', () => {
    expect(Object.keys(shares).sort()).toEqual(estimators.map(({ name }) => name).sort())
  })

  it.each(Object.entries(shares))('%s', (_name, found) => {
    for (const one of found()) {
      expect(one).toBeGreaterThan(0.7)
      expect(one).toBeLessThan(1.3)
    }
  })
})
