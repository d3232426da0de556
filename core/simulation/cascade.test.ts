import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { mechanismLayers } from '../machine'
import { expectDone } from '../tests/expectDone'
import { realismWith, oneMachine } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { typedPart } from '../tests/parts'
import { sortedPoles } from '../tests/poles'
import { reference } from '../tests/reference'
import { analyse, designLoop } from '../tuning'
import { compile, findColumn, predictTrial, start } from './index'

const gains = (kp: number, ki = 0, kd = 0) => ({ kind: 'typedGains', kp, ki, kd })

/** A cart whose speed lags behind its push: an inner loop holds its speed, an outer one its place. */
function cart(loops: Record<string, Values>, cue: object | null = { kind: 'stepCue', loop: 'place', at: 0, by: 1 }): Document {
  const machine = typedPart({ speed: ['0', '-8 * speed + 40 * push'], place: ['0', 'speed'] }, { push: 0 })
  const realism = realismWith(['sampling', ...mechanismLayers.map(({ name }) => name)])
  return oneMachine(machine, loops, { cues: cue === null ? {} : { step: cue }, after: 1.5, realism })
}

const speed = (more: Values = {}) => ({
  ...{ holds: 'speed', pushes: 'push', reference: 'command', law: { kind: 'proportionalIntegral' }, delay: 1 },
  ...{ tuning: gains(0.35, 3), ...more },
})
const place = (more: Values = {}) => ({ holds: 'place', pushes: 'loops.speed', rate: 20, tuning: gains(6), ...more })

const checked = (document: Document) => expectDone(checkDocument(document)).resolved

describe('a loop that commands another', () => {
  // lifting and period map: Kranc, IRE Trans. AC-2 (1957); Meyer & Burrus, IEEE Trans. CAS-22 (1975); computed in the file
  const { expected } = reference<
    object,
    {
      closed_loop_poles_slow_rate_nonzero: { re: number; im: number }[]
      y_outer_at_t: number[]
      critical_outer_gain: number
      critical_theta_rad_per_outer_period: number
    }
  >('mr-cascade')
  const times = [0.05, 0.1, 0.137, 0.2, 0.35, 0.512, 0.75, 1]
  // in either order: commands pass from outer to inner all the same
  it.each([
    ['outer first', checked(cart({ place: place(), speed: speed() }))],
    ['inner first', checked(cart({ speed: speed(), place: place() }))],
  ])('has the computed poles, limit and step, %s', (_, document) => {
    const { model, gains: found } = expectDone(designLoop(document, 'place'))
    const analysis = analyse(model, found)
    const poles = analysis.closedPoles.filter(({ re, im }) => Math.hypot(re, im) > 1e-4)
    expect(sortedPoles(poles)).toBeNear(sortedPoles(expected.closed_loop_poles_slow_rate_nonzero), { absolute: 1e-7 })
    expect(6 * analysis.gainMargin!.factor).toBeNear(expected.critical_outer_gain, { relative: 1e-6 })
    expect(analysis.gainMargin!.w / 20).toBeNear(expected.critical_theta_rad_per_outer_period, { relative: 1e-6 })
    const record = start(expectDone(compile(document, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
    const held = findColumn(record, 'm.place')!
    const onTick = times
      .map((t, i) => ({ t, y: expected.y_outer_at_t[i]! }))
      .filter(({ t }) => Number.isInteger(Math.round(t * 1000) / 10))
    expect(onTick.length).toBe(6)
    expect(onTick.map(({ t }) => held[Math.round(t * 100)]!)).toBeNear(onTick.map(({ y }) => y), { absolute: 1e-9 }) // prettier-ignore
    const prediction = predictTrial(document, 'run', 'place')!
    const sampled = onTick.filter(({ t }) => Number.isInteger(Math.round(t * 1000) / 50))
    expect(sampled.map(({ t }) => prediction.held[Math.round(t * 20)]!)).toBeNear(sampled.map(({ y }) => y), { absolute: 1e-9 }) // prettier-ignore
  })

  it('is the same as one loop alone where the inner one passes its command on', () => {
    // an integrator of the command: the inner loop pushes what it is asked, less what it holds
    const document = checked(
      cart({ place: place({ tuning: { kind: 'requirement', crossover: 2, phaseMargin: 1 } }), speed: speed() }),
    )
    const { model, gains: found } = expectDone(designLoop(document, 'place'))
    const { crossover, phaseMargin, account } = analyse(model, found)
    expect(crossover).toBeNear(2, { relative: 1e-6 })
    const sum = account.reduce((total, { phase }) => total + phase, 0)
    expect(sum).toBeNear(phaseMargin! - Math.PI, { absolute: 1e-9 })
    const inner = account.find(({ name }) => name === 'inner')!
    expect(inner.phase).toBeLessThan(0)
    expect(inner.phase).toBeGreaterThan(-0.6)
  })

  it('takes the sign that its plant needs', () => {
    const backwards = checked(cart({ hold: { holds: 'speed', pushes: 'push', tuning: { kind: 'requirement', crossover: 10, phaseMargin: 1 } } }, null)) // prettier-ignore
    const mirrored = {
      ...backwards,
      machines: { m: typedPart({ speed: ['0', '-8 * speed - 40 * push'], place: ['0', 'speed'] }, { push: 0 }) },
    }
    const [plain, turned] = [backwards, mirrored].map((document) => expectDone(designLoop(document, 'hold')).gains.kp)
    expect(plain).toBeGreaterThan(0)
    expect(turned).toBeNear(-plain!, { relative: 1e-12 })
  })
})

describe('loops that contradict one another', () => {
  const problems = (loops: Record<string, Values>) => {
    const outcome = checkDocument(cart(loops, null))
    return outcome.kind === 'refused' ? outcome.problems : []
  }
  it.each([
    ['waits for nobody', { speed: speed() }, 'loops.speed.reference', /no loop pushes its reference/],
    [
      'commands what does not wait',
      { speed: speed({ reference: 'cue' }), place: place() },
      'loops.speed.reference',
      /takes its reference from elsewhere/,
    ],
    ['commands nothing', { place: place() }, 'loops.place.pushes', /no loop named speed/],
    ['goes faster', { speed: speed(), place: place({ rate: 400 }) }, 'loops.place.rate', /faster than speed/],
    ['does not fit', { speed: speed(), place: place({ rate: 30 }) }, 'loops.place.rate', /not a whole number of times/],
    ['pushes twice', { speed: speed(), place: place(), other: place() }, 'loops.other.pushes', /Both place and other push/],
    [
      'goes in a ring',
      { speed: speed({ pushes: 'loops.place' }), place: place({ rate: 100, reference: 'command' }) },
      'loops.speed.pushes',
      /in a ring: speed → place → speed/,
    ],
  ] as const)('%s', (_, loops, where, what) => {
    const found = problems(loops).find((one) => one.where === where && what.test(one.what))
    expect(found, JSON.stringify(problems(loops))).toBeDefined()
    expect(found!.remedy.length).toBeGreaterThan(5)
  })
  it('says the rate that would fit', () => {
    expect(problems({ speed: speed(), place: place({ rate: 30 }) })[0]!.remedy).toBe('Give 25 Hz.')
  })
})
