import { describe, expect, it } from 'vitest'
import { checkDocument } from '../index'
import { feedforwards, inversePushes, linearMachine } from '../control'
import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import type { Scalar } from '../expression'
import { fromPolynomials } from '../linear'
import { designLayers, numbersOf } from '../machine'
import { designLoop, followingFigures } from '../tuning'
import { demo, lamplighter } from '../tests/demo'
import { bodyPart, jointPart, mechanismPart, typedPart } from '../tests/parts'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { compile, findColumn, predictTrial, start } from './index'
import type { Record as RunRecord } from './index'

/** Loops without feedback unless said, and a trial that asks them for cues. */
function documentOf(machine: Part, loops: Readonly<Record<string, Values>>, cues: Readonly<Record<string, Values>>): Document {
  const whole = { law: { kind: 'pidOnRate' }, rate: 1000, closed: false }
  const named = Object.entries(loops).map(([name, loop]) => [name, { ...whole, ...loop }])
  return oneMachine(machine, Object.fromEntries(named) as typeof loops, { cues })
}

const checked = (document: Document) => expectDone(checkDocument(document)).resolved
const flown = (document: Document): RunRecord =>
  start(expectDone(compile(checked(document), 'run'))).run({ trial: 'run', layers: [], seed: 1 })
const column = (record: RunRecord, name: string) => findColumn(record, name)!
const forward = (kind: string, more: Values = {}) => ({ feedforwards: { own: { kind, on: true, scale: 1, ...more } } })

/** Two slender links in a vertical plane, masses at their ends: the textbook's arm. */
const [m1, m2, l1, l2, g] = [2, 1.5, 0.8, 0.6, 9.80665]
const twoLinks = mechanismPart(
  {
    upper: bodyPart(m1, [l1, 0, 0], [0, 0, 0], jointPart('turning', 'ground', [0, 0, 1], { axis: [0, -1, 0], start: 0.3 })),
    lower: bodyPart(m2, [l2, 0, 0], [0, 0, 0], jointPart('turning', 'upper', [l1, 0, 0], { axis: [0, -1, 0], start: 0.5 })),
  },
  {
    drives: {
      shoulder: { kind: 'effortDrive', joint: 'upper.angle', most: 500 },
      elbow: { kind: 'effortDrive', joint: 'lower.angle', most: 500 },
    },
  },
)

/** Lynch & Park, Modern Robotics, 2017, equations 8.9 (from memory): torques of two links with point masses. */
function handbookTorques(q: readonly number[], v: readonly number[], a: readonly number[]): number[] {
  const [q1, q2] = q as [number, number]
  const [v1, v2] = v as [number, number]
  const [a1, a2] = a as [number, number]
  const [c2, s2] = [Math.cos(q2), Math.sin(q2)]
  const first =
    (m1 * l1 ** 2 + m2 * (l1 ** 2 + 2 * l1 * l2 * c2 + l2 ** 2)) * a1 +
    m2 * (l1 * l2 * c2 + l2 ** 2) * a2 -
    m2 * l1 * l2 * s2 * (2 * v1 * v2 + v2 ** 2) +
    (m1 + m2) * l1 * g * Math.cos(q1) +
    m2 * g * l2 * Math.cos(q1 + q2)
  const second =
    m2 * (l1 * l2 * c2 + l2 ** 2) * a1 + m2 * l2 ** 2 * a2 + m2 * l1 * l2 * v1 ** 2 * s2 + m2 * g * l2 * Math.cos(q1 + q2)
  return [first, second]
}

describe('the equations of a machine turned round', () => {
  const rest = expectDone(linearMachine(twoLinks, designLayers.all)).operatingPoint
  const torques = (q: readonly number[], v: readonly number[], a: readonly number[]) =>
    inversePushes(
      twoLinks,
      numbersOf(twoLinks),
      rest,
      ['upper', 'lower'].map((name, i) => ({
        push: `drives.${i === 0 ? 'shoulder' : 'elbow'}`,
        holds: `${name}.angle`,
        motion: [q[i]!, v[i]!, a[i]!] as const,
      })),
    ) as readonly number[]

  it.each([
    [
      [0.3, 0.5],
      [0, 0],
      [0, 0],
    ],
    [
      [0.3, 0.5],
      [1.2, -0.7],
      [3, 5],
    ],
    [
      [-1.1, 2.2],
      [-2, 3],
      [0.4, -6],
    ],
  ])('are the torques of the textbook at %j, %j, %j', (q, v, a) => {
    expect(torques(q, v, a)).toBeNear(handbookTorques(q, v, a), { relative: 1e-9 })
  })

  // common practice, no source: inertial torque goes with the square of the pace
  it('need n² times the inertial torque where the same path goes n times faster', () => {
    const gravity = torques([0.4, 0.9], [0, 0], [0, 0])
    const inertial = (n: number) =>
      torques([0.4, 0.9], [0.5 * n, 0.2 * n], [2 * n * n, -n * n]).map((one, i) => one - gravity[i]!)
    expect(inertial(3)).toBeNear(
      inertial(1).map((one) => 9 * one),
      { relative: 1e-9 },
    )
  })
})

const glide = (loop: string, by: number) => ({ kind: 'minimumJerkCue', loop, at: 0.2, by, over: 1 })
const arm = (more: Values) =>
  documentOf(
    twoLinks,
    {
      shoulder: { holds: 'upper.angle', pushes: 'drives.shoulder', ...more },
      elbow: { holds: 'lower.angle', pushes: 'drives.elbow', ...more },
    },
    { first: glide('shoulder', 0.6), second: glide('elbow', -0.8) },
  )

describe('feedforward without feedback', () => {
  it('moves the whole arm along its references by inverse dynamics', () => {
    const record = flown(arm(forward('inverseDynamics')))
    const error = (name: string, loop: string) => {
      const asked = column(record, `loops.${loop}.reference`)
      return Math.max(...column(record, name).map((value, k) => Math.abs(value - asked[k]!)))
    }
    // commands are held for 1 ms, nothing feeds back, and the arm would fall within the second
    expect(error('m.upper.angle', 'shoulder')).toBeLessThan(5e-3)
    expect(error('m.lower.angle', 'elbow')).toBeLessThan(2e-2)
  })

  it('carries gravity where the arm shall be, which what holds it at rest does not', () => {
    const command = (kind: string) => {
      const record = flown(arm({ ...forward(kind), closed: false }))
      return column(record, 'loops.shoulder.command')
    }
    const [moved, resting] = [handbookTorques([0.9, -0.3], [0, 0], [0, 0])[0]!, handbookTorques([0.3, 0.5], [0, 0], [0, 0])[0]!]
    expect(command('gravity').at(-1)!).toBeNear(moved, { relative: 1e-9 })
    expect(command('holding').at(-1)!).toBeNear(resting, { relative: 1e-9 })
  })
})

describe('inverse dynamics beside feedback', () => {
  /** The largest error of a loop over a run with what its loops carry beforehand. */
  const lag = (document: Document, trial: string, loop: string, quantity: string, carried: Values, loops = [loop]) => {
    const changed = loops.reduce((now, one) => {
      const law = { kind: 'proportionalDerivative', derivativeWeight: 1 } // the rate of the error, which does not brake what is asked
      const loop = { ...now.loops[one]!, law, feedforwards: { own: { on: true, scale: 1, ...carried } } }
      return replaceAt(now, `loops.${one}`, loop)
    }, document)
    const layers = new Set(['sampling', 'friction'] as const)
    const record = start(expectDone(compile(checked(changed), trial, { layers }))).run({ trial, layers: [], seed: 1 })
    const asked = column(record, `loops.${loop}.reference`)
    return Math.max(...column(record, quantity).map((value, k) => Math.abs(value - asked[k]!)))
  }

  it('leads a ramp with a closed chain up along a wide motion', () => {
    const { foldingOrder: _order, ...loops } = demo('boarding-ramp').loops
    const up = (loop: string, by: number) => ({ kind: 'minimumJerkCue', loop, at: 0.5, by, over: 3 })
    const document = {
      ...demo('boarding-ramp'),
      loops: { ...loops, quayHinge: { ...loops.quayHinge!, reference: 'cue' } },
      trials: {
        handButton: {
          ...demo('boarding-ramp').trials.handButton!,
          cues: { up: up('quayHinge', 0.8), fold: up('foldHinge', -0.9) },
          after: 1,
        },
      },
    } as Document
    const both = ['quayHinge', 'foldHinge']
    const along = (kind: string) => lag(document, 'handButton', 'quayHinge', 'ramp.innerLeaf.angle', { kind }, both)
    expect(along('inverseDynamics')).toBeLessThan(0.1 * along('holding'))
  })

  it('leads a lifter up and round', () => {
    const up = (loop: string, by: number) => ({ kind: 'minimumJerkCue', loop, at: 0.5, by, over: 2 })
    const plain = lamplighter()
    const document = replaceAt(replaceAt(plain, 'trials.galleryRise.cues', { up: up('height', 3), turn: up('heading', 1.2) }), 'loops.heading.reference', 'cue') // prettier-ignore
    for (const [loop, quantity] of [
      ['height', 'lamplighter.readings.place.height'],
      ['heading', 'lamplighter.readings.attitude.heading'],
    ] as const) {
      const of = (kind: string) => lag(document, 'galleryRise', loop, quantity, { kind })
      expect(of('inverseDynamics')).toBeLessThan(0.5 * of('holding'))
    }
  })
})

/** 12 kg that slides with friction in proportion: place = (1/12)/(s (s + 0.25)) push. */
const cart = {
  kind: 'matrices',
  a: [
    [0, 1],
    [0, -0.25],
  ],
  b: [[0], [1 / 12]],
  c: [[1, 0]],
  d: [[0]],
  states: { place: { kind: 'nominalState', unit: 'm' }, speed: { kind: 'nominalState', unit: 'm/s' } },
  inputs: { push: { kind: 'plainInput', unit: 'N' } },
  outputs: { shown: { kind: 'nominalSignal', unit: 'm' } },
}

const sliding = (more: Values, cues: Readonly<Record<string, Values>> = { go: glide('hold', 2) }) =>
  documentOf(cart, { hold: { holds: 'place', pushes: 'push', ...more } }, cues)

/** The place goes where it is asked to, and as it was predicted. */
function expectFollowed(document: Document): void {
  const record = flown(document)
  const [place, asked] = [column(record, 'm.place'), column(record, 'loops.hold.reference')]
  expect(Math.max(...place.map((value, k) => Math.abs(value - asked[k]!)))).toBeLessThan(0.02)
  const prediction = predictTrial(checked(document), 'run', 'hold')!
  expect([...place]).toBeNear([...prediction.held.slice(0, place.length)], { absolute: 1e-9 })
}

describe('a linear machine with feedforward', () => {
  const gains = { onRate: 12 * 0.25, onAcceleration: 12 }

  it.each([
    ['gains on the reference', forward('referenceGains', gains)],
    ['the inverse of the linear plant', forward('plantInverse')],
    ['inverse dynamics', forward('inverseDynamics')],
    // R/k (J a + b v) + k v = 12 a + 3 v
    [
      'the inverse of its drive',
      forward('inverseDrive', { inertia: 12, damping: 2, friction: 0, constant: 1, resistance: 1, gear: 1 }),
    ],
  ])('follows by %s alone, as predicted', (_what, more) => {
    expectFollowed(sliding({ ...more, rate: 200 }))
  })

  it('follows by an inverse that remembers, where the machine has a zero', () => {
    // (s + 3)/((s + 1)(s + 2)): its inverse has a filter with a pole at -3
    const leading = { ...cart, a: [[0, 1], [-2, -3]], b: [[1], [0]] } // prettier-ignore
    const hold = { holds: 'place', pushes: 'push', law: { kind: 'proportional' }, ...forward('plantInverse'), rate: 400 }
    expectFollowed(documentOf(leading, { hold }, { go: glide('hold', 2) }))
  })

  it('of a machine that passes something at once ends at one over its gain', () => {
    // (s + 3)/(s + 1) = 1 + 2/(s + 1): its inverse is 1 - 2/(s + 3), at rest 1/3
    const passing = fromPolynomials([1, 3], [1, 1], null)
    const inverse = feedforwards.find(({ name }) => name === 'plantInverse')!
    let memory: readonly Scalar[] = Array.from({ length: inverse.remembers!(() => passing) }, () => 0)
    const commands: number[] = []
    for (let k = 0; k < 400; k++) {
      const step = inverse.command(
        { asked: [1, 0, 0], dt: 0.01 } as never,
        memory,
        () => 0,
        { kind: '' },
        () => passing,
      )
      memory = step.memory
      commands.push(step.command as number)
    }
    expect(commands[0]).toBeGreaterThan(0.95)
    expect(commands.at(-1)).toBeNear(1 / 3, { relative: 1e-4 })
  })

  it('lags less with both than with feedback alone', () => {
    const feedback = { closed: true, tuning: { kind: 'typedGains', kp: 48, ki: 0, kd: 40 }, rate: 200 }
    const lag = (more: Values) => {
      const document = sliding({ ...feedback, ...more })
      const { t, held } = predictTrial(checked(document), 'run', 'hold')!
      const record = flown(document)
      return followingFigures(t, held, (at) => column(record, 'loops.hold.reference')[Math.round(at * 200)]!).lag!
    }
    expect(lag({})).toBeGreaterThan(0.2)
    expect(Math.abs(lag(forward('referenceGains', { ...gains, onRate: 3 + 40 })))).toBeLessThan(0.02)
  })

  it('is what its scale and switch say', () => {
    const command = (more: Values) => column(flown(sliding(more)), 'loops.hold.command')[500]!
    const whole = command(forward('plantInverse'))
    expect(command(forward('plantInverse', { scale: 0.5 }))).toBeNear(0.5 * whole, { relative: 1e-12 })
    expect(command(forward('plantInverse', { on: false }))).toBe(0)
  })
})

describe('an inverse drive', () => {
  it('is the voltage by hand: R/k (J a + b v + F) + k v', () => {
    const motor = { inertia: 0.02, damping: 0.1, friction: 0.4, constant: 0.5, resistance: 2, gear: 3 }
    const record = flown(
      sliding(forward('inverseDrive', motor), { go: { kind: 'rampCue', loop: 'hold', at: 0, by: 2, over: 4 } }),
    )
    const shaft = 3 * 0.5
    expect(column(record, 'loops.hold.command')[100]!).toBeNear((2 / 0.5) * (0.1 * shaft + 0.4) + 0.5 * shaft, { relative: 1e-9 })
  })
})

describe('a measured disturbance', () => {
  /** A room with a draught of its own, which a flap lets in. */
  const room = typedPart(
    { warmth: ['0', '2 * heat - 0.5 * warmth - draught'], draught: ['0', '5 * (flap - draught)'] },
    { heat: 0, flap: 0 },
  )
  const law = { kind: 'proportional' }
  const opened = (more: Values) =>
    documentOf(
      room,
      {
        hold: { holds: 'warmth', pushes: 'heat', law, ...more },
        open: { holds: 'draught', pushes: 'flap', law, ...forward('referenceGains', { onReference: 1 }) },
      },
      { gale: { kind: 'stepCue', loop: 'open', at: 0.2, by: 3 } },
    )
  const away = (more: Values) => Math.max(...column(flown(opened(more)), 'm.warmth').map(Math.abs))

  it('is taken before it is felt', () => {
    expect(away({})).toBeGreaterThan(1)
    // heat is held for 1 ms, in which the draught goes on
    expect(away(forward('measuredDisturbance', { signal: 'draught', gain: -0.5 }))).toBeLessThan(0.01)
  })

  it('is refused where the push moves it', () => {
    const refused = designLoop(checked(opened(forward('measuredDisturbance', { signal: 'warmth', gain: 1 }))), 'hold')
    expect(refused).toMatchObject({
      kind: 'refused',
      problems: [{ where: 'loops.hold.feedforwards.own.signal', what: /feedback/ }],
    })
  })
})

describe('feedforwards that cannot be', () => {
  const problems = (document: Document) => {
    const outcome = checkDocument(document)
    return outcome.kind === 'refused' ? outcome.problems : []
  }

  it('are refused where two carry the same', () => {
    const both = {
      feedforwards: { weight: { kind: 'holding', on: true, scale: 1 }, motion: { kind: 'inverseDynamics', on: true, scale: 1 } },
    }
    expect(problems(sliding(both))).toMatchObject([{ where: 'loops.hold.feedforwards.motion', remedy: /off/ }])
  })

  it('are refused where the push reaches what is held only through another state', () => {
    const lagging = {
      ...cart,
      a: [
        [0, 1, 0],
        [0, 0, 1],
        [0, 0, -5],
      ],
      b: [[0], [0], [5]],
      c: [[1, 0, 0]],
      states: { ...(cart.states as object), force: { kind: 'nominalState', unit: 'N' } },
    }
    const loop = { hold: { holds: 'place', pushes: 'push', ...forward('inverseDynamics') } }
    expect(problems(documentOf(lagging, loop, {}))).toMatchObject([{ what: /neither the rate/ }])
    const design = designLoop(checked(documentOf(lagging, { hold: { ...loop.hold, ...forward('plantInverse') } }, {})), 'hold')
    expect(design).toMatchObject({ kind: 'refused', problems: [{ what: /3 more poles than zeros/ }] })
  })

  it('are refused where the inverse would never come to rest', () => {
    // s/((s + 1)(s + 2)) stops whatever is asked: its inverse integrates
    const forgets = { ...cart, a: [[-3, -2], [1, 0]], b: [[1], [0]], c: [[1, 0]] } // prettier-ignore
    const hold = { holds: 'shown', pushes: 'push', law: { kind: 'proportional' }, ...forward('plantInverse') }
    expect(designLoop(checked(documentOf(forgets, { hold }, {})), 'hold')).toMatchObject({
      kind: 'refused',
      problems: [{ what: /zero at -?0[: ]/ }],
    })
  })

  it('are refused where the inverse would be unstable', () => {
    // (1 - s)/((s + 1)(s + 2)) first moves the wrong way
    const wrongWay = {
      ...cart,
      a: [
        [0, 1],
        [-2, -3],
      ],
      b: [[-1], [4]],
    }
    const design = designLoop(
      checked(
        documentOf(
          wrongWay,
          { hold: { holds: 'shown', pushes: 'push', law: { kind: 'proportional' }, ...forward('plantInverse') } },
          {},
        ),
      ),
      'hold',
    )
    expect(design).toMatchObject({ kind: 'refused', problems: [{ what: /zero at 1/ }] })
  })
})
