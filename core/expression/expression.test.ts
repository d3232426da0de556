import { describe, expect, it } from 'vitest'
import { runC } from '../tests/compileC'
import { numbersFrom, randomExpressions } from '../tests/randomGraph'
import { expectSameBits, runTwin, runWasm } from '../tests/runPrograms'
import * as x from './index'
import { uniformNumber } from './operations'

const inputs = 6

function program(seed: number, size: number, kind: 'smooth' | 'any') {
  const graph = new x.Graph()
  const expressions = randomExpressions(graph, seed, inputs, size, kind)
  const body = [x.assign(expressions.map((value, i) => ({ slot: inputs + i, value })))]
  const code: x.Code = { slots: inputs + expressions.length, procedures: [{ name: 'go', body }] }
  const next = numbersFrom(seed + 1)
  const values = Array.from({ length: inputs }, () => (next() - 0.5) * 6)
  return { expressions, code, values }
}

describe('a printed program', () => {
  it.each([1, 2, 3])('gives the same bits in WebAssembly, in C and plainly evaluated, seed %i', (seed) => {
    const { expressions, code, values } = program(seed, 120, 'any')
    const wasm = runWasm(code, values)
    const plain = x.evaluation(values)
    expectSameBits(wasm, Float64Array.from([...values, ...expressions.map((e) => plain.number(e) as number)]))
    expectSameBits(wasm, runC(x.printC(code), values, ['go'], code.slots))
  })

  it('keeps its bits when it is long enough to be cut into chunks', () => {
    const { expressions, code, values } = program(11, 500, 'any')
    const plain = x.evaluation(values)
    const wasm = runWasm(code, values)
    expectSameBits(wasm, Float64Array.from([...values, ...expressions.map((e) => plain.number(e) as number)]))
    expectSameBits(wasm, runC(x.printC(code), values, ['go'], code.slots))
  })

  it('stores all values of an assignment as computed from memory before it', () => {
    const graph = new x.Graph()
    const [a, b] = [graph.slot(0), graph.slot(1)]
    const swap = x.assign([
      { slot: 0, value: x.add(b, 0) },
      { slot: 1, value: a },
      { slot: 2, value: x.add(a, b) },
    ])
    const code = { slots: 3, procedures: [{ name: 'go', body: [swap] }] }
    expect([...runWasm(code, [1, 20])]).toEqual([20, 1, 21])
    expect([...runC(x.printC(code), [1, 20, 0], ['go'], 3)]).toEqual([20, 1, 21])
    expect(x.printC(code)).toContain('double m[3];')
    expect(x.printC(code, 4)).toContain('double m[7];')
  })

  it('loops, chooses, calls and copies', () => {
    const graph = new x.Graph()
    const [count, total] = [graph.slot(0), graph.slot(1)]
    const step = [
      x.set(1, x.add(total, count)),
      x.when(x.less(total, 5), [x.call('small')], [x.set(2, x.add(graph.slot(2), 100))]),
      x.copy(1, 2, x.add(4, x.mul(2, count))),
      x.set(0, x.add(count, 1)),
    ]
    const procedures = [
      { name: 'go', body: [x.repeatWhile(x.less(count, 4), step)] },
      { name: 'small', body: [x.set(2, x.add(graph.slot(2), 1))] },
    ]
    const code = { slots: 14, procedures }
    const wasm = runWasm(code, [0, 0, 0])
    expect([...wasm]).toEqual([4, 6, 103, 0, 0, 1, 1, 2, 3, 3, 6, 103, 0, 0].map((v, i) => (i === 5 ? 1 : v)))
    expectSameBits(wasm, runC(x.printC(code), [0, 0, 0], ['go'], 14))
  })
})

describe('exact derivatives', () => {
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('agree with central differences on random graphs, seed %i', (seed) => {
    const { expressions, values } = program(seed, 25, 'smooth')
    for (let input = 0; input < inputs; input++) {
      const exact = x.derivatives(expressions, input)
      expressions.forEach((expression, i) => {
        const slope = x.evaluate(exact[i]!, values)
        const at = (h: number) =>
          x.evaluate(
            expression,
            values.map((v, k) => (k === input ? v + h : v)),
          )
        const estimates = [1e-3, 3e-4, 1e-4, 3e-5, 1e-5].map((h) => (8 * (at(h) - at(-h)) - (at(2 * h) - at(-2 * h))) / (12 * h))
        const nearest = Math.min(...estimates.map((estimate) => Math.abs(estimate - slope)))
        // differences of a fourth-order formula keep about 9 digits of a slope
        expect(nearest).toBeLessThan(1e-6 * (1 + Math.abs(slope)))
      })
    }
  })

  it('take the branch that is taken', () => {
    const a = new x.Graph().slot(0)
    const slope = (e: x.Scalar, at: number) => x.evaluate(x.derivatives([e], 0)[0]!, [at])
    expect(slope(x.max(a, 1), 0.5)).toBe(0)
    expect(slope(x.max(a, 1), 1.5)).toBe(1)
    expect(slope(x.abs(a), -3)).toBe(-1)
    expect(slope(x.select(x.less(a, 2), x.square(a), x.mul(7, a)), 3)).toBe(7)
  })
})

describe('the length of a vector', () => {
  it('has the slope 0 where it is 0 and is multiplied by what vanishes there: drag turns round without a jump', () => {
    const graph = new x.Graph()
    const [ax, ay] = [graph.slot(0), graph.slot(1)]
    const drag = x.mul(ax, x.sqrt(x.add(x.square(ax), x.square(ay))))
    const slopes = (at: number[]) => x.jacobian([drag], [0, 1])[0]!.map((entry) => x.evaluate(entry, at))
    expect(slopes([0, 0])).toEqual([0, 0])
    expect(slopes([3, 4])).toBeNear([5 + 9 / 5, 12 / 5], { absolute: 1e-15 })
    expect(x.jacobianAt([drag], [0, 1], [0, 0])[0]).toEqual([0, 0])
  })
})

describe('folding', () => {
  const graph = new x.Graph()
  const [a, b] = [graph.slot(0), graph.slot(1)]
  it('makes equal expressions one node', () => {
    expect(x.add(a, b)).toBe(x.add(b, a))
    expect(x.sin(x.mul(a, 3))).toBe(x.sin(x.mul(3, a)))
  })
  it('drops what does nothing', () => {
    expect(x.mul(a, 0)).toBe(0)
    expect(x.mul(1, a)).toBe(a)
    expect(x.add(a, 0)).toBe(a)
    expect(x.neg(x.neg(a))).toBe(a)
    expect(x.select(true, a, b)).toBe(a)
  })
})

describe('hoisted invariants', () => {
  it('leave the same values, with the constant part computed apart', () => {
    const { expressions, values } = program(5, 80, 'any')
    let free = 500
    const graph = (expressions.find((e) => typeof e !== 'number') as x.NumberNode).graph
    const hoisted = x.hoistInvariants(
      graph,
      expressions,
      (slot) => slot < 4,
      () => free++,
    )
    expect(hoisted.first.length).toBeGreaterThan(3)
    const memory = [...values]
    for (const { slot, value } of hoisted.first) memory[slot] = x.evaluate(value, values)
    expect(hoisted.expressions.map((e) => x.evaluate(e, memory))).toEqual(expressions.map((e) => x.evaluate(e, values)))
  })
})

describe('uniform numbers', () => {
  it('are spread evenly and uncorrelated', () => {
    const n = 20_000
    const draws = Array.from({ length: n }, (_, i) => uniformNumber(3, 1, i))
    const mean = draws.reduce((a, b) => a + b) / n
    const variance = draws.reduce((a, b) => a + (b - mean) ** 2, 0) / n
    const lag = draws.slice(1).reduce((a, b, i) => a + (b - mean) * (draws[i]! - mean), 0) / n / variance
    expect(mean).toBeNear(0.5, { absolute: 4 / Math.sqrt(12 * n) }) // four standard errors
    expect(variance).toBeNear(1 / 12, { relative: 0.03 })
    expect(lag).toBeNear(0, { absolute: 4 / Math.sqrt(n) })
  })
})

describe('neighbouring slots', () => {
  const compiled = (build: (slot: (index: number) => x.Scalar) => x.Scalar[], values: readonly number[], first = 20) => {
    const graph = new x.Graph()
    const expressions = build((index) => graph.slot(index))
    const body = [x.assign(expressions.map((value, i) => ({ slot: first + i, value })))]
    const code: x.Code = { slots: 40, procedures: [{ name: 'go', body }] }
    const padded = [...values, ...new Array<number>(40 - values.length).fill(0)]
    const wasm = runWasm(code, padded)
    expectSameBits(wasm, runC(x.printC(code), padded, ['go'], code.slots))
    const plain = x.evaluation(padded)
    expect([...wasm.slice(first, first + expressions.length)]).toEqual(expressions.map((e) => plain.number(e)))
    return { bytes: x.printWasm(code).bytes, wasm }
  }
  const awkward = [1.1, -0, NaN, Infinity, -2.5, 5e-324, 1e308, 0.1, 3, -7, 0, 1e-3]

  it('are computed two at a time with the same bits', () => {
    const step = (slot: (index: number) => x.Scalar) =>
      [0, 1, 2, 3, 4].map((i) => x.sub(x.add(slot(i), x.mul(0.3, slot(i + 5))), x.div(x.neg(slot(i + 5)), slot(11))))
    const { bytes } = compiled(step, awkward)
    expect([...bytes].filter((byte) => byte === 0xfd).length).toBeGreaterThan(8) // two pairs of vector instructions
  })

  it('with limits, roots and absolute values too', () => {
    compiled((slot) => [0, 1, 2, 3].map((i) => x.max(x.min(x.sqrt(x.abs(slot(i))), slot(i + 4)), 0.5)), awkward)
  })

  it('that read what the others store still see memory as it was', () => {
    const { wasm } = compiled((slot) => [x.add(slot(1), 1), x.add(slot(2), 1), x.add(slot(0), 1)], [10, 20, 30], 0)
    expect([...wasm.slice(0, 3)]).toEqual([21, 31, 11])
  })

  it('may each read themselves', () => {
    const { wasm } = compiled((slot) => [x.mul(slot(0), 2), x.mul(slot(1), 2)], [10, 20], 0)
    expect([...wasm.slice(0, 2)]).toEqual([20, 40])
  })
})

describe('a graph', () => {
  it('holds equal expressions once, however many there are', () => {
    const graph = new x.Graph()
    const build = () => {
      let total: x.Scalar = 0
      for (let i = 0; i < 5000; i++) total = x.add(total, x.mul(graph.slot(i), x.add(graph.slot(i + 1), 0.1 * i)))
      return total
    }
    expect(build()).toBe(build())
  })

  it('tells 0 from -0, and one constant from its neighbour', () => {
    const graph = new x.Graph()
    const a = graph.slot(0)
    expect(x.max(a, 0)).not.toBe(x.max(a, -0))
    expect(x.mul(a, 1 + 2 ** -52)).not.toBe(x.mul(a, 1 + 2 ** -51))
    expect(x.max(a, NaN)).toBe(x.max(a, NaN))
  })
})

describe('a long copy', () => {
  it.each([1, 2, 7, 128, 129, 301])('moves %i slots', (count) => {
    const graph = new x.Graph()
    const target = graph.slot(0)
    const code = { slots: 700, procedures: [{ name: 'go', body: [x.copy(1, count, target)] }] }
    const values = [350, ...Array.from({ length: 310 }, (_, i) => i + 0.5)]
    const wasm = runWasm(code, values)
    expect([...wasm.slice(350, 350 + count)]).toEqual(values.slice(1, 1 + count))
    expect(wasm[350 + count]).toBe(0)
  })
})

describe('derivatives at a point', () => {
  it.each([3, 4, 5, 6, 7])('are the values of the derivatives as expressions, seed %i', (seed) => {
    const graph = new x.Graph()
    const expressions = randomExpressions(graph, seed, inputs, 80, 'any')
    const next = numbersFrom(seed)
    const values = Array.from({ length: inputs }, () => (next() - 0.5) * 3)
    const slots = Array.from({ length: inputs }, (_, i) => i)
    const written = x.evaluation(values)
    const wanted = x.jacobian(expressions, slots).map((row) => row.map((entry) => written.number(entry) as number))
    const found = x.jacobianAt(expressions, slots, values)
    const finite = (m: number[][]) => m.flat().map((value) => (Number.isFinite(value) ? value : 0))
    expect(finite(found)).toBeNear(finite(wanted), { relative: 1e-13 })
  })
})

describe('a program for two states at once', () => {
  it.each([1, 2, 3, 4, 5, 6, 7])('gives for each the bits of the plain one, seed %i', (seed) => {
    const { code, values } = program(seed, seed > 6 ? 500 : 160, 'any')
    const others = values.map((value, i) => value * (i % 2 === 0 ? -0.7 : 1e7)) // large angles take the costly way
    const [first, second] = runTwin(code, values, others)
    expectSameBits(first, runWasm(code, values))
    expectSameBits(second, runWasm(code, others))
  })

  it('loops, chooses and copies where both count alike', () => {
    const graph = new x.Graph()
    const [count, total, pointer] = [graph.slot(0), graph.slot(1), graph.slot(2)]
    const body = [
      x.repeatWhile(x.less(0, count), [
        x.set(1, x.add(total, x.select(x.less(total, 5), count, x.mul(0.5, count)))),
        x.when(x.equal(count, 2), [x.copy(0, 2, pointer)], [x.set(3, x.sin(total))]),
        x.set(0, x.sub(count, 1)),
      ]),
    ]
    const code = { slots: 8, procedures: [{ name: 'go', body }] }
    const [first, second] = runTwin(code, [4, 0, 5], [4, 3, 5])
    expectSameBits(first, runWasm(code, [4, 0, 5]))
    expectSameBits(second, runWasm(code, [4, 3, 5]))
  })
})
