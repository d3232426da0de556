import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { poseFilterStep, poseStart } from '../control'
import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import { lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile, findColumn, start } from './index'
import type { Record as RunRecord } from './index'

const assumed = {
  ...{ gyroNoise: 0.004, accelerationNoise: 0.08, driftNoise: 1e-6, fixNoise: 0.4, headingNoise: 0.002 },
  ...{ startTilt: 0.01, startSpeed: 0.1, startPlace: 0.2, startDrift: 0.02 },
}
const pose = { kind: 'poseFilter', machine: 'lamplighter', inertial: 'inertial', fixes: 'fixes', ...assumed }
const tilt = { kind: 'tiltFilter', machine: 'lamplighter', inertial: 'inertial', timeConstant: 4 }
const cues = {
  away: { kind: 'stepCue', loop: 'east', at: 2, by: 4 },
  turned: { kind: 'stepCue', loop: 'heading', at: 4, by: 0.6 },
  north: { kind: 'stepCue', loop: 'north', at: 8, by: -3 },
}

/** The lifter with position fixes and a drifting gyroscope, its loops reading what they did. */
function documentOf(estimators: Document['estimators'], drift = 0.01): Document {
  const base = lamplighter()
  const [trial] = Object.keys(base.trials)
  const { at: centre } = (base.machines.lamplighter!.sensors as unknown as Record<string, Part>).inertial!
  // of a sample, as a density
  const fixes = { kind: 'positionFix', body: 'hull', at: centre, rate: 5, noise: 0.4 * Math.sqrt(2 / 5) }
  return [
    ['machines.lamplighter.sensors.fixes', fixes],
    ['machines.lamplighter.sensors.inertial.gyroBias', drift],
    ['loops.heading.reference', 'cue'],
    ['estimators', { ...base.estimators, ...estimators }],
    [`trials.${trial}.cues`, cues],
    [`trials.${trial}.overrides`, {}],
    [`trials.${trial}.after`, 30],
  ].reduce((document, [path, value]) => replaceAt(document, path as string, value), base)
}

const flown = (document: Document, seed = 3): RunRecord => {
  const { resolved } = expectDone(checkDocument(document))
  const [trial] = Object.keys(resolved.trials) as [string]
  return start(expectDone(compile(resolved, trial, { seed }))).run({ trial, layers: [], seed })
}
const column = (record: RunRecord, name: string) => [...findColumn(record, name)!]
const mean = (values: readonly number[]) => values.reduce((sum, one) => sum + one, 0) / values.length
const rms = (values: readonly number[]) => Math.sqrt(mean(values.map((one) => one * one)))
const nameOf = (quantity: string) =>
  `lamplighter.readings.${/^(east|north|height|climb)/.test(quantity) ? 'place' : 'attitude'}.${quantity}`
const errorOf = (record: RunRecord, quantity: string) => {
  const truth = column(record, nameOf(quantity))
  return column(record, `${nameOf(quantity)}.estimate`).map((value, k) => value - truth[k]!)
}
/** The later part, once a filter has settled. */
const late = (values: readonly number[]) => values.slice(Math.floor(values.length * 0.4))

describe('the extended Kalman filter of attitude and position', () => {
  const record = flown(documentOf({ pose } as never))

  it('finds the drift of the gyroscope', () => {
    for (const axis of ['x', 'y', 'z'])
      expect(column(record, `estimators.pose.drift.${axis}`).at(-1)).toBeNear(0.01, { absolute: 1.5e-3 })
  })

  it('knows place and speed better than a fix does, and the attitude', () => {
    for (const quantity of ['east', 'north']) expect(rms(late(errorOf(record, quantity)))).toBeLessThan(0.25)
    for (const quantity of ['eastRate', 'northRate']) expect(rms(late(errorOf(record, quantity)))).toBeLessThan(0.15)
    for (const quantity of ['roll', 'pitch', 'heading']) expect(rms(late(errorOf(record, quantity)))).toBeLessThan(0.01)
  })

  // Bar-Shalom, Li & Kirubarajan, Estimation with Applications to Tracking and Navigation, 2001, section 5.4 (from memory):
  // innovations squared over their covariance have the mean of their number where a filter is right about itself
  it('is right about itself: fixes surprise it by 3 in the mean', () => {
    const surprises = [1, 2, 3, 4].flatMap((seed) => {
      const run = flown(documentOf({ pose } as never), seed)
      // fresh with each fix only: five a second of the two hundred samples
      return column(run, 'estimators.pose.surprise').filter((_, k) => k % 40 === 0 && k > 400)
    })
    const tolerance = 2.6 * Math.sqrt((2 * 3) / surprises.length)
    expect(mean(surprises)).toBeNear(3, { absolute: tolerance })
  })

  it('is the truth where nothing errs', () => {
    const document = documentOf({ pose } as never, 0)
    const [trial] = Object.keys(document.trials)
    const exact = flown(replaceAt(document, `trials.${trial}.realism.sensorErrors`, false))
    for (const quantity of ['height', 'roll', 'heading']) expect(rms(errorOf(exact, quantity))).toBeLessThan(5e-3)
    // a sample stands for the time since the last one: off by about the speed times half a sample
    expect(rms(errorOf(exact, 'east'))).toBeLessThan(0.03)
  })

  it('can be what the loops fly by', () => {
    const read = ['east', 'north', 'eastSpeed', 'northSpeed', 'roll', 'pitch', 'heading', 'rollRate', 'pitchRate']
    const document = read.reduce((now, loop) => replaceAt(now, `loops.${loop}.reads`, 'estimated'), documentOf({ pose } as never))
    const flight = flown(document)
    expect(mean(column(flight, 'lamplighter.readings.place.east').slice(-400))).toBeNear(4, { absolute: 0.4 })
    expect(rms(late(column(flight, 'lamplighter.readings.attitude.roll')))).toBeLessThan(0.15)
  })
})

describe('the complementary filter of roll and pitch', () => {
  it('takes out most of the drift, and reads less noise than the accelerometer', () => {
    const quick = flown(documentOf({ tilt } as never))
    // drift times time constant is left: common practice, no source
    expect(mean(late(errorOf(quick, 'roll')))).toBeNear(0.01 * 4, { absolute: 8e-3 })
    const level = flown(documentOf({ tilt } as never, 0))
    expect(rms(late(errorOf(level, 'roll')))).toBeLessThan(0.02)
    expect(rms(column(level, 'estimators.tilt.innovation.roll'))).toBeGreaterThan(0.007)
  })
})

describe('estimators of a lifter that cannot be', () => {
  const refusal = (estimators: object, where: string) => {
    const found = checkDocument(documentOf(estimators as never))
    return found.kind === 'refused' ? found.problems.find((one) => one.where === where) : undefined
  }
  it('name the sensor that is missing', () => {
    expect(refusal({ pose: { ...pose, fixes: 'sounder' } }, 'estimators.pose.fixes')!.what).toMatch(/no position fix named/)
    expect(refusal({ tilt: { ...tilt, inertial: 'none' } }, 'estimators.tilt.inertial')!.remedy).toMatch(/inertial/)
  })
})

it('a fix at the end of an arm tells how the body is turned, where its place is known well', () => {
  // rolled by 0.3 about x, hovering: z turns to the right, and the end of an arm along z with it
  const [roll, arm] = [0.3, [0, 0, 0.5] as const]
  const [s, c] = [Math.sin(roll), Math.cos(roll)]
  const noises = { gyroNoise: 1e-3, accelerationNoise: 1, driftNoise: 1e-9, fixNoise: 1e-3, headingNoise: 1e-3 }
  const start = { startTilt: 0.5, startSpeed: 1e-3, startPlace: 1e-3, startDrift: 1e-9 }
  let memory = poseStart([0, 0, 0], [1, 0, 0, 0], start)
  for (let k = 0; k < 5; k++)
    ({ memory } = poseFilterStep(memory, {
      ...{ rates: [0, 0, 0], specificForce: [0, 9.81 * s, 9.81 * c], gravity: 9.81, heading: 0, arm },
      ...{ fix: [0, -0.5 * s, 0.5 * c], fresh: true as never, noises, dt: 1e-4 },
    }))
  const [w, x] = memory as readonly number[]
  expect(2 * Math.atan2(x!, w!)).toBeNear(roll, { absolute: 0.02 })
})
