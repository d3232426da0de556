import { Graph, mul, sub, sum } from '../expression'
import type { Scalar } from '../expression'
import { linearize } from '../linear'
import type { StateSpace } from '../linear'
import type { Gains, LoopModel } from './loopModel'

/**
 * The closed loop, linear, from its reference to what it holds and what it pushes, sampled at the loop's rate. States:
 * those of what it reads, the law's memory, then commands on their way.
 */
export function closedLoop(model: LoopModel, gains: Gains): StateSpace {
  const { read: seen, law, shown, delay, dt } = model
  const graph = new Graph()
  const n = seen.a.length
  const m = law.memory.length
  const slots = Array.from({ length: n + m + delay }, (_, i) => graph.slot(i))
  const reference = graph.slot(slots.length)
  const [x, memory, waiting] = [slots.slice(0, n), slots.slice(n, n + m), slots.slice(n + m)]
  const row = (coefficients: readonly number[]): Scalar => sum(coefficients.map((value, k) => mul(value, x[k]!)))
  const held = row(seen.c[shown.truth]!)
  const rate = shown.rate === undefined ? 0 : row(seen.c[shown.rate]!)
  const signals = shown.signals.map((output) => row(seen.c[output]!))
  const read = { error: sub(reference, row(seen.c[0]!)), rate, signals, rest: shown.rest, follow: shown.follow }
  const step = law.step({ ...read, reference, dt, excess: 0 }, memory, gains)
  const command = sum(Object.values(step.terms))
  const push = delay === 0 ? command : waiting[0]!
  const next = seen.a.map((coefficients, i) => sum([row(coefficients), mul(seen.b[i]![0]!, push)]))
  const pipeline = delay === 0 ? [] : [...waiting.slice(1), command]
  const all = slots.map((_, i) => i)
  const closed = linearize({
    rates: [...next, ...step.memory, ...pipeline],
    outputs: [held, command],
    stateSlots: all,
    inputSlots: [slots.length],
    at: slots.map((_, i) => law.start[i - n] ?? 0).concat(0),
    names: { states: all.map((i) => `x${i + 1}`), inputs: ['reference'], outputs: ['held', 'command'] },
  })
  return { ...closed, dt }
}
