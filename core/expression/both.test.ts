import { describe, expect, it } from 'vitest'
import { runC } from '../tests/compileC'
import { numbersFrom, randomExpressions } from '../tests/randomGraph'
import { expectSameBits, runTwin, runWasm } from '../tests/runPrograms'
import * as x from './index'

const inputs = 6

/** Sums, products, limits and choices of pairs, singles and constants among the inputs and one another. */
function randomPairs(graph: x.Graph, seed: number, size: number): x.Scalar[] {
  const next = numbersFrom(seed)
  const pick = (from: readonly x.Scalar[]) => from[Math.floor(next() * from.length)]!
  const singles: x.Scalar[] = [...Array.from({ length: inputs }, (_, i) => graph.slot(i)), 0, 1, -2.5]
  const pairs = [x.both(graph, singles[0]!, singles[1]!), x.both(graph, 1, singles[3]!), x.both(graph, 0, 1)]
  const operations = [x.add, x.sub, x.mul, x.div, x.min, x.max, x.neg, x.abs, x.sqrt] as ((
    a: x.Scalar,
    b: x.Scalar,
  ) => x.Scalar)[]
  for (let i = 0; i < size; i++) {
    const [a, b] = [pick(pairs), pick(next() < 0.6 ? pairs : singles)]
    const operation = operations[Math.floor(next() * operations.length)]!
    const made = next() < 0.1 ? x.select(x.less(pick(singles), 0.3), a, b) : operation(a, b)
    pairs.push(made)
    if (next() < 0.3) singles.push(x.sin(x.lane(made, next() < 0.5 ? 0 : 1)))
    if (next() < 0.2) pairs.push(x.both(graph, pick(singles), pick(singles)))
  }
  return pairs
}

function programOf(seed: number, size: number) {
  const graph = new x.Graph()
  const lanes = randomPairs(graph, seed, size).flatMap((pair) => [x.lane(pair, 0), x.lane(pair, 1)])
  const body = [x.assign(lanes.map((value, i) => ({ slot: inputs + i, value })))]
  const code: x.Code = { slots: inputs + lanes.length, procedures: [{ name: 'go', body }] }
  const next = numbersFrom(seed + 1)
  return { lanes, code, values: Array.from({ length: inputs }, () => (next() - 0.5) * 6) }
}

describe('two values in one', () => {
  it.each([
    [1, 60],
    [2, 60],
    [3, 60],
    [4, 900], // long enough to be cut into chunks
  ])('give the same bits in WebAssembly, in C, twice at once and plainly evaluated, seed %i', (seed, size) => {
    const { lanes, code, values } = programOf(seed, size)
    const wasm = runWasm(code, values)
    const plain = x.evaluation(values)
    expectSameBits(wasm, Float64Array.from([...values, ...lanes.map((one) => plain.number(one) as number)]))
    expectSameBits(wasm, runC(x.printC(code), values, ['go'], code.slots))
    const others = values.map((value) => 0.5 - value)
    const [first, second] = runTwin(code, values, others)
    expectSameBits(first, wasm)
    expectSameBits(second, runWasm(code, others))
  })

  it('come apart where they are read, and a single one stands for two alike', () => {
    const graph = new x.Graph()
    const [a, b] = [graph.slot(0), graph.slot(1)]
    const pair = x.both(graph, a, b)
    expect([x.lane(pair, 0), x.lane(pair, 1), x.lane(a, 1), x.lane(7, 0)]).toEqual([a, b, a, 7])
    expect(x.both(graph, 3, 3)).toBe(3)
    expect(x.lane(x.mul(x.both(graph, 1, 0), a), 1)).toBe(0) // zero folds in its lane
    expect(() => x.both(graph, pair, a)).toThrow('single')
  })

  it('keep a constant sign of zero apart', () => {
    const graph = new x.Graph()
    const pair = x.both(graph, 0, -0)
    expect([x.lane(pair, 0), x.lane(pair, 1)]).toEqual([0, -0])
  })

  it('are refused where only single values go', () => {
    const graph = new x.Graph()
    const pair = x.both(graph, graph.slot(0), graph.slot(1))
    expect(() => x.sin(pair)).toThrow('no sin of two values')
    expect(() => x.less(pair, 1)).toThrow('no less of two values')
    expect(() => x.jacobianAt([x.lane(x.mul(pair, pair), 0)], [0], [1, 2])).toThrow('single')
  })

  it('are stored as one only after every other value has read what stood there', () => {
    const graph = new x.Graph()
    const pair = x.mul(x.both(graph, graph.slot(4), graph.slot(5)), x.both(graph, graph.slot(5), graph.slot(4)))
    const values = [x.lane(pair, 0), x.lane(pair, 1), x.add(graph.slot(0), 10), x.mul(graph.slot(1), 10)]
    const code = { slots: 6, procedures: [{ name: 'go', body: [x.assign(values.map((value, slot) => ({ slot, value })))] }] }
    const before = [1, 2, 0, 0, 3, 5]
    expect([...runWasm(code, before)]).toEqual([15, 15, 11, 20, 3, 5])
    expectSameBits(runWasm(code, before), runC(x.printC(code), before, ['go'], 6))
  })

  it('take replacements of what they are made of', () => {
    const graph = new x.Graph()
    const [a, b] = [graph.slot(0), graph.slot(1)]
    const value = x.lane(x.mul(x.both(graph, a, b), x.both(graph, b, a)), 0)
    const replaced = x.replacement(graph, new Map([[a, x.add(b, 1)]])).number(value)
    expect(x.evaluate(replaced, [NaN, 2])).toBe(6)
  })

  it('stay in a run where the rest of it is constant', () => {
    const graph = new x.Graph()
    const [a, b] = [graph.slot(0), graph.slot(1)]
    const pair = x.mul(x.both(graph, x.sin(a), x.cos(a)), b)
    let slots = 2
    const { first, expressions } = x.hoistInvariants(
      graph,
      [x.lane(pair, 0), x.lane(pair, 1)],
      (slot) => slot === 0,
      () => slots++,
    )
    const memory = [0.3, 2, ...first.map(({ value }) => x.evaluate(value, [0.3]))]
    expect(first.length).toBeGreaterThan(0)
    expect(expressions.map((one) => x.evaluate(one, memory))).toBeNear([2 * Math.sin(0.3), 2 * Math.cos(0.3)], {
      relative: 1e-15,
    })
  })
})

describe('columns of a Jacobian two at a time', () => {
  it.each([3, 4, 5])('are those of the plain one, seed %i', (seed) => {
    const graph = new x.Graph()
    const expressions = randomExpressions(graph, seed, inputs, 80, 'any')
    const next = numbersFrom(seed)
    const values = Array.from({ length: inputs }, () => (next() - 0.5) * 3)
    const pairs = [
      [0, 3],
      [1, 4],
      [2, 5],
    ] as const
    const written = x.evaluation(values)
    const numbers = (rows: x.Scalar[][]) =>
      rows.flat().map((entry) => {
        const value = written.number(entry) as number
        return Number.isFinite(value) ? value : 0
      })
    const wanted = x.jacobian(expressions, [0, 1, 2, 3, 4, 5])
    const found = x.pairedJacobian(graph, expressions, pairs)
    const apart = found.map((row) => ([0, 1] as const).flatMap((which) => row.map((pair) => x.lane(pair, which))))
    expect(numbers(apart)).toBeNear(numbers(wanted), { relative: 1e-12 })
  })
})
