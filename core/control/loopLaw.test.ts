import { describe, expect, it } from 'vitest'
import { complex, magnitude } from '../algebra'
import type { Complex } from '../algebra'
import { Graph, evaluate } from '../expression'
import type { Part } from '../document'
import { blankPart } from '../kinds'
import { fromPolynomials, responseAt } from '../linear'
import { filterProblems, filters, lawOf } from './index'

const rate = 200
const dt = 1 / rate
const loopWith = (law: Part, ...list: Part[]) => ({ rate, law, filters: Object.fromEntries(list.map((one, i) => [`f${i}`, one])) }) // prettier-ignore
const quiet = { reference: 0, rate: 0, dt, excess: 0, signals: [], rest: [], follow: [] }

const examples: Record<string, Part> = {
  lowPass: { kind: 'lowPass', frequency: 30, order: 2, damping: 0.6 },
  notch: { kind: 'notch', frequency: 25, width: 0.4, depth: 0.05 },
  lead: { kind: 'lead', lift: 0.8, frequency: 12 },
  lag: { kind: 'lag', frequency: 8, factor: 8 },
  anyTransferFunction: { kind: 'anyTransferFunction', num: [[1, 4]], den: [[0.2, 1, 4]] },
}

describe.each(filters)('the filter $name', (filter) => {
  const part = examples[filter.name]!
  const at = (w: number): Complex => {
    const [system] = lawOf(loopWith({ kind: 'proportional' }, part)).filters(dt)
    return responseAt(system!, complex(Math.cos(w * dt), Math.sin(w * dt)))![0]![0]!
  }
  const { num, den } = filter.transfer(part)
  const continuous = (w: number) => responseAt(fromPolynomials(num, den, null), complex(0, w))![0]![0]!

  it('is the continuous one where it matters: at its own frequency, and at rest', () => {
    const w = filter.centre(part)
    const there = w === 0 ? 0.5 : w
    const close = w === 0 ? 1e-3 : 1e-9 // without a frequency of its own nothing is bent
    const [found, wanted] = [at(there), continuous(there)]
    expect([found.re, found.im]).toBeNear([wanted.re, wanted.im], { absolute: close })
    expect(at(1e-6).re).toBeNear(continuous(1e-6).re, { relative: 1e-6 })
  })

  it('runs as the difference equation that it is analysed by', () => {
    const law = lawOf(loopWith({ kind: 'proportional' }, part))
    const graph = new Graph()
    const memory = law.memory.map((_, i) => graph.slot(i))
    const step = law.step({ ...quiet, error: graph.slot(memory.length) }, memory, { kp: 1, ki: 0, kd: 0 })
    const w = 9
    // a sine in, a sine out: size and phase as the response says, once the start has died out
    let state = law.memory.map(() => 0)
    const [inputs, outputs]: number[][] = [[], []]
    for (let k = 0; k < 6000; k++) {
      const slots = [...state, Math.sin(w * dt * k)]
      inputs!.push(Math.sin(w * dt * k))
      outputs!.push(Object.values(step.terms).reduce<number>((sum, term) => sum + evaluate(term, slots), 0))
      state = step.memory.map((value) => evaluate(value, slots))
    }
    const tail = outputs!.slice(-3000)
    expect(Math.max(...tail)).toBeNear(magnitude(at(w)), { relative: 1e-3 })
  })

  it('starts with plausible numbers', () => {
    const fresh = blankPart(filter)
    const { num: top, den: bottom } = filter.transfer(fresh)
    expect(top.length).toBeLessThanOrEqual(bottom.length)
    expect(filterProblems('loops.x', loopWith({ kind: 'proportional' }, fresh))).toEqual([])
  })
})

describe('a low-pass of second order', () => {
  it.each([0.3, 0.7, 1.5])('has the gain 1/(2 ζ) at its corner, ζ %d (common practice, no source)', (damping) => {
    const { num, den } = filters.find(({ name }) => name === 'lowPass')!.transfer({ frequency: 30, order: 2, damping })
    // s = 30j: s² + c s + 900 is c 30j
    expect(num[0]! / (den[1]! * 30)).toBeNear(1 / (2 * damping), { relative: 1e-12 })
    expect(den[2]).toBe(900)
  })
})

describe('filters in a row', () => {
  it('multiply, and add one term to those of the law', () => {
    const law = lawOf(loopWith({ kind: 'proportionalIntegral' }, examples.notch!, examples.lead!))
    expect(law.memory).toHaveLength(1 + 2 + 1)
    const { terms } = law.step({ ...quiet, error: 1 }, law.memory.map(() => 0), { kp: 2, ki: 1, kd: 0 }) // prettier-ignore
    expect(Object.keys(terms)).toEqual(['proportional', 'integral', 'filters'])
  })
  it('lift the phase by what a lead is asked for, with gain 1', () => {
    const [system] = lawOf(loopWith({ kind: 'proportional' }, examples.lead!)).filters(dt)
    const there = responseAt(system!, complex(Math.cos(12 * dt), Math.sin(12 * dt)))![0]![0]!
    expect([magnitude(there), Math.atan2(there.im, there.re)]).toBeNear([1, 0.8], { relative: 1e-9 })
  })
  it('leave what is far from a notch as it is', () => {
    const [system] = lawOf(loopWith({ kind: 'proportional' }, examples.notch!)).filters(dt)
    const gainAt = (angle: number) => magnitude(responseAt(system!, complex(Math.cos(angle), Math.sin(angle)))![0]![0]!)
    expect([gainAt(0), gainAt(Math.PI), gainAt(25 * dt)]).toBeNear([1, 1, 0.05], { relative: 1e-9 })
  })
  it.each([
    [{ kind: 'notch', frequency: 620, width: 0.3, depth: 0 }, /half the sample rate, 628.3/],
    [{ kind: 'anyTransferFunction', num: [[1, 0, 0]], den: [[1, 1]] }, /higher power/],
    [{ kind: 'anyTransferFunction', num: [[1]], den: [[0, 1]] }, /starts with 0/],
    [{ kind: 'anyTransferFunction', num: [[1]], den: [] }, /empty/],
    [{ kind: 'anyTransferFunction', num: [[1]], den: [[1]] }, /no pole/],
    [{ kind: 'anyTransferFunction', num: [[]], den: [[0.1, 1]] }, /no numerator/],
    [{ kind: 'anyTransferFunction', num: [[1], [2]], den: [[0.1, 1]] }, /several rows/],
  ])('are refused where samples cannot do it: %o', (part, what) => {
    const [problem] = filterProblems('loops.x', loopWith({ kind: 'proportional' }, part))
    expect(problem!.what).toMatch(what)
    expect(problem!.where).toMatch(/^loops\.x\.filters\.f0/)
  })
})

describe('PID with a filtered rate', () => {
  it('is its difference equation by hand', () => {
    // b = 0.7, c = 0.2, T = 0.03, kp = 2, ki = 5, kd = 0.4; Åström & Wittenmark, section 8.5 (from memory)
    const settings = { kind: 'proportionalIntegralDerivative', setPointWeight: 0.7, derivativeWeight: 0.2, filterTime: 0.03 }
    const law = lawOf(loopWith(settings))
    let memory: readonly number[] = law.memory.map(() => 0)
    let [integral, derivative, before] = [0, 0, 0]
    for (let k = 0; k < 50; k++) {
      const reference = k > 3 ? 1 : 0
      const measured = Math.sin(0.2 * k)
      const step = law.step({ error: reference - measured, reference, rate: 99, dt, excess: 0, signals: [], rest: [], follow: [] }, memory, { kp: 2, ki: 5, kd: 0.4 }) // prettier-ignore
      const weighed = 0.2 * reference - measured
      derivative = (0.03 * derivative + (weighed - before)) / (0.03 + dt)
      before = weighed
      const wanted = 2 * (0.7 * reference - measured) + integral + 0.4 * derivative
      integral += 5 * dt * (reference - measured)
      const found = Object.values(step.terms).reduce<number>((sum, term) => sum + (term as number), 0)
      expect(found).toBeNear(wanted, { absolute: 1e-12 })
      memory = step.memory as readonly number[]
    }
  })
  it('leaves the kick of a step out where only the measurement is differentiated', () => {
    const first = (derivativeWeight: number) => {
      const law = lawOf(loopWith({ kind: 'proportionalDerivative', derivativeWeight }))
      return law.step({ error: 1, reference: 1, rate: 0, dt, excess: 0, signals: [], rest: [], follow: [] }, [0, 0], {
        kp: 1,
        ki: 0,
        kd: 1,
      }).terms.rate
    }
    expect(first(0)).toBeNear(0, { absolute: 1e-15 })
    expect(first(1)).toBeGreaterThan(10)
  })
})
