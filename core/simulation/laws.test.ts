import { describe, expect, it } from 'vitest'
import { checkDocument } from '../index'
import { partsIn, replaceAt } from '../document'
import type { Document, Part } from '../document'
import { analyse, designLoop } from '../tuning'
import { magnitude } from '../algebra'
import { continuousPole } from '../linear'
import { linearPart, typedPart } from '../tests/parts'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { compile, findColumn, predictTrial, start } from './index'

/** A loop on the first input of a machine, asked for a step of 1 at 0.5 s. */
function documentOf(machine: Part, loop: Values, after = 60): Document {
  const [holds] = Object.keys(partsIn(machine.states))
  const [pushes] = Object.keys(partsIn(machine.inputs))
  const cues = { up: { kind: 'stepCue', loop: 'hold', at: 0.5, by: 1 } }
  return oneMachine(machine, { hold: { holds, pushes, ...loop } }, { cues, after })
}

const checked = (document: Document) => expectDone(checkDocument(document)).resolved
const problemsOf = (document: Document) => {
  const outcome = checkDocument(document)
  return outcome.kind === 'refused' ? outcome.problems : []
}

/** Simulated and predicted values of what is held. */
function answers(document: Document): { simulated: number[]; predicted: number[] } {
  const ready = checked(document)
  const [name] = Object.keys(partsIn(ready.machines.m!.states))
  const record = start(expectDone(compile(ready, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
  const simulated = [...findColumn(record, `m.${name!}`)!]
  return { simulated, predicted: [...predictTrial(ready, 'run', 'hold')!.held] }
}

/** Two carts on a spring, the first one pushed: four states. */
const carts = linearPart(
  [
    [0, 0, 1, 0],
    [0, 0, 0, 1],
    [-4, 4, 0, 0],
    [6, -6, 0, 0],
  ],
  [[0], [0], [1], [0]],
)
const [, x2, x3, x4] = Object.keys(partsIn(carts.states)) as [string, string, string, string]
const states = Object.fromEntries([x2, x3, x4].map((signal, i) => [`s${i}`, { kind: 'fedBack', signal }]))
const fed = (tuning: Values, more: Values = {}) => documentOf(carts, { law: { kind: 'stateFeedback', states, ...more }, tuning })
const weighed = (deviations: readonly number[], most: number, more: Values = {}) =>
  fed({ kind: 'weights', deviations: deviations.map((one) => [one]), most }, more)
const designOf = (document: Document) => expectDone(designLoop(checked(document), 'hold'))
const gainsOf = (document: Document) => designOf(document).gains

describe('state logic', () => {
  it('counts the time in each state anew', () => {
    const timed = (command: string, next: string) => ({ kind: 'logicState', command, when: 'since >= 0.5', next })
    const states = { one: timed('1', 'two'), two: timed('2', 'three'), three: { kind: 'logicState', command: '3', when: 'error > 1e9', next: 'one' } } // prettier-ignore
    const tank = typedPart({ level: ['0', 'push - level'] }, { push: 0 })
    const hold = { holds: 'level', pushes: 'push', law: { kind: 'stateLogic', states }, rate: 100 }
    const record = start(expectDone(compile(checked(oneMachine(tank, { hold }, { after: 2 })), 'run'))).run({ trial: 'run', layers: [], seed: 1 }) // prettier-ignore
    const commands = [...findColumn(record, 'loops.hold.command')!]
    const lasts = (command: number) => commands.filter((one) => Math.abs(one - command) < 1e-9).length
    expect([lasts(1), lasts(2)].map((count) => (count * 2) / commands.length)).toBeNear([0.5, 0.5], { absolute: 0.03 })
  })
})

describe('state feedback', () => {
  it('counts its signals from where they rest', () => {
    // the store rests at 4 while its level is held at 2: nothing is asked, so nothing moves
    const tank = typedPart({ level: ['2', 'push - 3 * level + 0.5 * store'], store: ['4', '2 * level - store'] }, { push: 4 }) // prettier-ignore
    const hold = { holds: 'level', pushes: 'push', law: { kind: 'stateFeedback', states: { s: { kind: 'fedBack', signal: 'store' } } }, tuning: { kind: 'typedGains', kp: 3, ki: 0, kd: 0, states: [[2]] }, feedforwards: { rest: { kind: 'holding', on: true, scale: 1 } } } // prettier-ignore
    const record = start(expectDone(compile(checked(oneMachine(tank, { hold }, { after: 2 })), 'run'))).run({ trial: 'run', layers: [], seed: 1 }) // prettier-ignore
    expect([...findColumn(record, 'm.level')!].at(-1)!).toBeNear(2, { relative: 1e-9 })
    expect([...findColumn(record, 'm.store')!].at(-1)!).toBeNear(4, { relative: 1e-9 })
  })

  it('has the poles it was asked for', () => {
    const poles = [
      [-1.5, 1.2],
      [-1.5, -1.2],
      [-2, 3],
      [-2, -3],
    ]
    const { model, gains } = designOf(fed({ kind: 'poleLocations', poles }))
    const found = analyse(model, gains).closedPoles.map((pole) => continuousPole(pole, model.dt))
    for (const [re, im] of poles)
      expect(Math.min(...found.map((pole) => magnitude({ re: pole.re - re!, im: pole.im - im! })))).toBeLessThan(1e-7)
  })

  // Bryson's rule: only ratios of what may deviate matter (common practice, no source)
  it('depends on ratios of its weights alone', () => {
    const one = gainsOf(weighed([0.2, 0.4, 1, 2], 3))
    const other = gainsOf(weighed([0.4, 0.8, 2, 4], 6))
    for (const name of ['kp', x2, x3, x4]) expect(other[name]).toBeNear(one[name]!, { relative: 1e-9 })
    expect(Math.abs(gainsOf(weighed([0.1, 0.4, 1, 2], 3)).kp)).toBeGreaterThan(Math.abs(one.kp))
  })

  // a double integrator: with weights 1/d² and 1/m² the continuous gains are m/d and √(2 m/d) (Bryson & Ho, 1975, from
  // memory); sampled fast the discrete ones come near
  it('comes to the textbook gains of the double integrator', () => {
    const cart = linearPart(
      [
        [0, 1],
        [0, 0],
      ],
      [[0], [1]],
    )
    const [, speed] = Object.keys(partsIn(cart.states))
    const law = { kind: 'stateFeedback', states: { v: { kind: 'fedBack', signal: speed } } }
    const tuning = { kind: 'weights', deviations: [[0.5], [1e6]], most: 2 }
    const gains = gainsOf(documentOf(cart, { law, tuning, rate: 2000 }))
    expect(gains.kp).toBeNear(4, { relative: 2e-3 })
    expect(gains[speed!]).toBeNear(Math.sqrt(8), { relative: 2e-3 })
  })

  it.each(['with', 'without'])('%s integral flies in simulation as predicted, and arrives', (integral) => {
    const { simulated, predicted } = answers(weighed([0.2, 0.4, 1, 2], 3, { integral }))
    expect(simulated).toBeNear(predicted.slice(0, simulated.length), { absolute: 1e-9 })
    expect(simulated.at(-1)).toBeNear(1, { absolute: 0.02 })
  })

  it('says what is missing, or too much', () => {
    const two = { s: { kind: 'fedBack', signal: x2 } }
    const refused = (document: Document) => {
      const outcome = designLoop(checked(document), 'hold')
      return outcome.kind === 'refused' ? outcome.problems[0]! : undefined
    }
    const short = documentOf(carts, {
      law: { kind: 'stateFeedback', states: two },
      tuning: { kind: 'weights', deviations: [[1], [1]], most: 1 },
    })
    expect(refused(short)).toMatchObject({ where: 'loops.hold.tuning', what: /moves in 4 ways/ })
    expect(refused(weighed([1, 1, 1], 1))).toMatchObject({ what: /3 deviations are given for 4/ })
    expect(refused(weighed([1, 0, 1, 1], 1))).toMatchObject({ what: /more than 0/ })
    expect(
      refused(
        fed({
          kind: 'poleLocations',
          poles: [
            [-1, 1],
            [-1, 1],
            [-2, 0],
            [-3, 0],
          ],
        }),
      ),
    ).toMatchObject({ remedy: /conjugate/ })
    expect(refused(fed({ kind: 'requirement', crossover: 1, phaseMargin: 1 }))).toMatchObject({ remedy: /weights or poles/ })
    const twice = { a: { kind: 'fedBack', signal: x2 }, b: { kind: 'fedBack', signal: x2 } }
    expect(problemsOf(documentOf(carts, { law: { kind: 'stateFeedback', states: twice } }))).toMatchObject([{ what: /twice/ }])
    const strange = { a: { kind: 'fedBack', signal: 'x9' } }
    expect(problemsOf(documentOf(carts, { law: { kind: 'stateFeedback', states: strange } }))).toMatchObject([
      { what: /reads x9/ },
    ])
  })

  it('steadies the derrick: slewing with the load fed back', () => {
    const document = demo('derrick')
    const { model, gains } = expectDone(designLoop(document, 'slew'))
    const found = analyse(model, gains)
    expect(found.stable).toBe(true)
    expect(model.law.signals.length).toBeGreaterThan(2)
  })
})

describe('a relay', () => {
  // the describing function of Åström & Hägglund (1984): 1/(s (s + 1)²) swings at 1 rad/s with 4 d/π times its gain 1/2
  it('makes a loop swing near the edge that its describing function tells', () => {
    const machine = linearPart(
      [
        [0, 1, 0],
        [0, -1, 1],
        [0, 0, -1],
      ],
      [[0], [0], [1]],
    )
    const { simulated, predicted } = answers(documentOf(machine, { law: { kind: 'relay', amplitude: 0.5 }, rate: 200 }, 60))
    expect(simulated).toBeNear(predicted.slice(0, simulated.length), { absolute: 1e-8 })
    const late = simulated.slice(6000)
    const crossings = late.flatMap((value, i) => (i > 0 && value >= 1 && late[i - 1]! < 1 ? [i / 200] : []))
    const period = (crossings.at(-1)! - crossings[0]!) / (crossings.length - 1)
    expect((2 * Math.PI) / period).toBeNear(1, { relative: 0.03 })
    expect(Math.max(...late) - 1).toBeNear(((4 * 0.5) / Math.PI) * 0.5, { relative: 0.06 })
  })

  it('has no linear form, and a loop outside it says so', () => {
    const { model, gains } = designOf(documentOf(carts, { law: { kind: 'relay' } }))
    expect(analyse(model, gains)).toMatchObject({ notLinear: /no gain/, account: [] })
    const inner = documentOf(carts, { law: { kind: 'relay' }, reference: 'command' })
    const outer = { ...inner.loops.hold!, holds: x2, pushes: 'loops.hold', reference: 'cue', law: { kind: 'proportional' } }
    const both = { ...inner, loops: { ...inner.loops, outer }, trials: {} }
    expect(designLoop(checked(both), 'outer')).toMatchObject({ kind: 'refused', problems: [{ what: /no linear form/ }] })
  })
})

describe('laws of formulas in a trial', () => {
  it('a typed PI is the PI, in margins and in flight', () => {
    const pi = { law: { kind: 'proportionalIntegral' }, tuning: { kind: 'typedGains', kp: 0.4, ki: 0.1, kd: 0 } }
    const typed = {
      law: {
        kind: 'typedLaw',
        command: '0.4 * error + sum',
        states: { sum: { kind: 'lawState', start: 0, next: 'sum + share * error * dt' } },
      },
    }
    const lag = linearPart([[-0.5]], [[1]])
    const withShare = (document: Document) => ({
      ...document,
      parameters: { share: { kind: 'parameter', value: 0.1, unit: '' } },
    })
    const documents = [documentOf(lag, pi), withShare(documentOf(lag, typed))]
    const [first, second] = documents.map((document) => {
      const { model, gains } = designOf(document)
      return analyse(model, gains)
    })
    expect(second!.phaseMargin).toBeNear(first!.phaseMargin!, { relative: 1e-9 })
    const [one, other] = documents.map((document) => answers(document).simulated)
    expect(other).toBeNear(one!, { absolute: 1e-12 })
  })

  it('names the place of what it cannot read', () => {
    const bad = (law: Values) => problemsOf(documentOf(carts, { law }))
    expect(bad({ kind: 'typedLaw', command: '2 * eror' })).toMatchObject([{ where: 'loops.hold.law.command', remedy: /error/ }])
    const state = { kind: 'logicState', command: '0', when: 'error', next: 'stopp' }
    expect(bad({ kind: 'stateLogic', states: { stop: state } })).toMatchObject([
      { where: 'loops.hold.law.states.stop.when', what: /no comparison/ },
      { where: 'loops.hold.law.states.stop.next', remedy: /stop/ },
    ])
    expect(bad({ kind: 'stateLogic', states: {} })).toMatchObject([{ what: /no state/ }])
  })
})

describe('protective stops', () => {
  const cartPushed = (stops: Values, more: Values = {}) =>
    documentOf(
      linearPart([[-0.5]], [[1]]),
      { law: { kind: 'proportional' }, tuning: { kind: 'typedGains', kp: 3, ki: 0, kd: 0 }, stops, ...more },
      8,
    )
  const flown = (document: Document) => {
    const record = start(expectDone(compile(checked(document), 'run'))).run({ trial: 'run', layers: [], seed: 1 })
    return (name: string) => [...findColumn(record, `loops.hold.${name}`)!]
  }

  it('cut the law off once their condition has lasted, for good', () => {
    const stop = { kind: 'protectiveStop', when: 'measured > 0.5 for 0.3 s', action: 'nothing' }
    const column = flown(cartPushed({ tooFar: stop }))
    const [command, stopped] = [column('command'), column('stopped')]
    const at = stopped.indexOf(1)
    // 6/7 (1 - e^(-3.5 t)) passes 0.5 after 0.25 s
    expect(at / 100).toBeGreaterThan(0.5 + 0.25 + 0.28)
    expect(at / 100).toBeLessThan(0.5 + 0.25 + 0.36)
    expect(command.slice(at).every((value) => value === 0)).toBe(true)
    expect(stopped.slice(at).every((value) => value === 1)).toBe(true)
    expect(command[at - 2]).not.toBe(0)
    const terms = ['proportional', 'feedforward', 'stop'].map(column)
    expect(command.map((_, k) => terms.reduce((sum, term) => sum + term[k]!, 0))).toBeNear(command, { absolute: 1e-12 })
  })

  it('count on through chatter where their condition has hysteresis', () => {
    // a reference that swings about 0.5 within 0.1, once and again
    const swing = { kind: 'sineCue', loop: 'hold', at: 2, by: 0.1, frequency: 12, over: 5 }
    const trips = (when: string) => {
      const document = cartPushed({ a: { kind: 'protectiveStop', when, action: 'nothing' } })
      const up = { kind: 'stepCue', loop: 'hold', at: 0.5, by: 0.5 }
      return flown(replaceAt(document, 'trials.run.cues', { up, swing }))('stopped').indexOf(1)
    }
    expect(trips('reference > 0.5 for 0.6 s')).toBe(-1)
    const at = trips('reference > 0.5 until reference < 0.35 for 0.6 s')
    expect(at / 100).toBeGreaterThan(2.5)
    expect(at / 100).toBeLessThan(2.8)
  })

  it('keep what was last done where they say so; the first of several wins', () => {
    const stops = {
      first: { kind: 'protectiveStop', when: 'command > 1', action: 'keep' },
      second: { kind: 'protectiveStop', when: 'command > 1', action: 'nothing' },
    }
    const column = flown(cartPushed(stops))
    // the step asks for 3 at once: what was last done is nothing
    expect(column('command').every((value) => value === 0)).toBe(true)
    expect(Math.max(...column('stopped'))).toBe(1)
  })

  it('a watchdog trips on a reading that stands still', () => {
    const column = flown(cartPushed({ frozen: { kind: 'watchdog', after: 0.2, action: 'rest' } }))
    // at rest before the step the true reading stands still
    expect(column('stopped').indexOf(1) / 100).toBeNear(0.2, { absolute: 0.021 })
  })

  it('explain a condition that they cannot read', () => {
    const stop = { kind: 'protectiveStop', when: 'measred > 1', action: 'rest' }
    expect(problemsOf(cartPushed({ a: stop }))).toMatchObject([{ where: 'loops.hold.stops.a.when', remedy: /measured/ }])
  })
})

describe('an integral that has nothing to drive', () => {
  // a mass on a spring: a force that stays moves it, and then its speed is nothing again
  const mass = linearPart(
    [
      [0, 1],
      [-4, -0.4],
    ],
    [[0], [1]],
  )
  const held = (holds: string, kind: string, ki: number) =>
    designLoop(checked(documentOf(mass, { holds, law: { kind }, tuning: { kind: 'typedGains', kp: 1, ki, kd: 0 } }, 5)), 'hold')

  it('is told before it runs off, with what to do', () => {
    expect(held('x2', 'proportionalIntegral', 2)).toMatchObject({
      kind: 'refused',
      problems: [{ where: 'loops.hold.law', what: /integral has nothing to drive: at rest .* does not move/, remedy: /without/ }],
    })
  })

  it('is none where its gain is 0, or where the push moves what is held at rest', () => {
    expect(held('x2', 'proportionalIntegral', 0).kind).toBe('done')
    expect(held('x2', 'proportional', 0).kind).toBe('done')
    expect(held('x1', 'proportionalIntegral', 2).kind).toBe('done')
  })
})

describe('feedback that is switched in a trial', () => {
  const lag = linearPart([[-1]], [[1]])
  const flown = (law: string, gains: object, cues: object, closed: boolean) => {
    const hold = {
      holds: 'x1',
      pushes: 'u1',
      law: { kind: law },
      closed,
      tuning: { kind: 'typedGains', kp: 0, ki: 0, kd: 0, ...gains },
    }
    const document = checked(
      oneMachine(lag, { hold }, { cues: { up: { kind: 'stepCue', loop: 'hold', at: 1, by: 2 }, ...cues }, after: 10 }),
    )
    const record = start(expectDone(compile(document, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
    const predicted = predictTrial(document, 'run', 'hold')!
    return { command: [...findColumn(record, 'loops.hold.command')!], held: [...findColumn(record, 'm.x1')!], predicted }
  }
  const on = { on: { kind: 'switchCue', loop: 'hold', at: 3, turned: 'on' } }

  it('takes over without a bump where there is an integral, and then holds', () => {
    const { command, held } = flown('proportionalIntegral', { kp: 4, ki: 4 }, on, false)
    for (const value of held.slice(0, 300)) expect(value).toBe(0)
    const jump = Math.max(...command.slice(295, 310).map((value, k, all) => Math.abs(value - (all[k - 1] ?? 0))))
    // only what the integral grows by in a sample: ki error dt
    expect(jump).toBeLessThan(4 * 2 * 0.01 + 1e-9)
    expect(held.at(-1)!).toBeNear(2, { absolute: 1e-2 })
  })

  it('bumps by the gain on the error where there is none: common practice, no source', () => {
    const { command } = flown('proportional', { kp: 4 }, on, false)
    expect(command[299]).toBe(0)
    expect(command[300]).toBeCloseTo(8, 9)
  })

  it('leaves the machine to itself once it is off, and can be switched again', () => {
    const cues = {
      off: { kind: 'switchCue', loop: 'hold', at: 4, turned: 'off' },
      again: { kind: 'switchCue', loop: 'hold', at: 6, turned: 'on' },
    }
    const { held, command } = flown('proportionalIntegral', { kp: 4, ki: 4 }, cues, true)
    expect(held[399]!).toBeNear(2, { absolute: 0.1 })
    // 2 s of a lag of 1 s
    expect(held[600]! / held[400]!).toBeNear(Math.exp(-2), { relative: 1e-2 })
    expect(command[500]).toBe(0)
    expect(held.at(-1)!).toBeNear(2, { absolute: 2e-2 })
  })

  it.each([
    ['proportionalIntegral', true],
    ['proportionalIntegralDerivative', false],
  ])('is foretold sample by sample with %s', (law, closed) => {
    const cues = {
      off: { kind: 'switchCue', loop: 'hold', at: 4, turned: closed ? 'off' : 'on' },
      again: { kind: 'switchCue', loop: 'hold', at: 6, turned: closed ? 'on' : 'off' },
    }
    const { held, command, predicted } = flown(law, { kp: 4, ki: 4, kd: 0.2 }, cues, closed)
    expect(Math.max(...held.map(Math.abs))).toBeGreaterThan(1)
    held.forEach((value, k) => expect(predicted.held[k]!).toBeNear(value, { absolute: 1e-9 }))
    command.slice(0, -1).forEach((value, k) => expect(predicted.push[k]!).toBeNear(value, { absolute: 1e-8 }))
  })
})
