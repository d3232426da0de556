import { describe, expect, it } from 'vitest'
import * as x from './index'
import { loadModule } from './load'
import { printWasm } from './wasm/print'

/** Memory of a program after its procedure `go`, with slopes along slot 0. */
function along(code: x.Code, start: readonly number[], varied: readonly number[], still: ReadonlySet<number> = new Set()) {
  const { code: made, slopes, distance } = x.tangentOf(code, varied, still)
  const module = printWasm(made)
  const loaded = loadModule(module)
  loaded.reserve(module.slots + 64)
  const memory = loaded.memory()
  start.forEach((value, slot) => (memory[slot] = value))
  memory[slopes + varied[0]!] = 1
  memory[distance] = 32
  loaded.call('go')
  const after = loaded.memory()
  return { value: (slot: number) => after[slot]!, slope: (slot: number) => after[slopes + slot]!, after, behind: module.slots }
}

describe('the tangent of a program', () => {
  it('is that of a loop: x -> a x, five times, has the slope 5 a⁴ x', () => {
    const graph = new x.Graph()
    const [a, v, k] = [graph.slot(0), graph.slot(1), graph.slot(2)]
    const step = x.assign([
      { slot: 1, value: x.mul(a, v) },
      { slot: 2, value: x.add(k, 1) },
    ])
    const code: x.Code = { slots: 3, procedures: [{ name: 'go', body: [x.repeatWhile(x.less(k, 5), [step])] }] }
    const made = along(code, [1.3, 0.7, 0], [0])
    expect(made.value(1)).toBeNear(1.3 ** 5 * 0.7, { relative: 1e-15 })
    expect(made.slope(1)).toBeNear(5 * 1.3 ** 4 * 0.7, { relative: 1e-14 })
    expect(made.slope(2)).toBe(0)
  })

  it('is that of the branch that is taken, and 0 where a number is set anew', () => {
    const graph = new x.Graph()
    const [a, b] = [graph.slot(0), graph.slot(1)]
    const body = [
      x.set(1, x.mul(3, a)),
      x.when(x.less(a, 2), [x.set(2, x.mul(b, b))], [x.set(2, x.neg(b))]),
      x.set(3, x.select(x.less(b, a), x.sin(a), x.cos(a))),
      x.set(1, 7),
    ]
    const code: x.Code = { slots: 4, procedures: [{ name: 'go', body }] }
    const low = along(code, [1.5], [0])
    expect([low.slope(1), low.slope(2)]).toEqual([0, 2 * 9 * 1.5])
    expect(low.slope(3)).toBeNear(-Math.sin(1.5), { absolute: 1e-15 })
    expect(along(code, [2.5], [0]).slope(2)).toBe(-3)
  })

  it('goes through copies within memory, and with rows of a record behind it', () => {
    const graph = new x.Graph()
    const [a, b, where] = [graph.slot(0), graph.slot(2), graph.slot(4)]
    const body = [
      x.assign([{ slot: 1, value: x.mul(a, a) }]),
      x.copy(1, 1, 2),
      x.assign([{ slot: 3, value: x.div(b, 2) }]),
      x.copy(1, 3, where),
    ]
    const code: x.Code = { slots: 5, procedures: [{ name: 'go', body }] }
    const { behind } = along(code, [3], [0])
    const made = along(code, [3, 0, 0, 0, behind], [0])
    expect([...made.after.slice(behind, behind + 3)]).toEqual([9, 9, 4.5])
    expect([...made.after.slice(behind + 32, behind + 35)]).toEqual([6, 6, 3])
  })

  it('takes two values in one apart, and what is said to be still as it comes', () => {
    const graph = new x.Graph()
    const [a, b] = [graph.slot(0), graph.slot(1)]
    const pair = x.max(x.mul(x.both(graph, a, 2), x.both(graph, a, a)), x.both(graph, b, b))
    const body = [
      x.assign([
        { slot: 2, value: x.lane(pair, 0) },
        { slot: 3, value: x.lane(pair, 1) },
      ]),
      x.set(4, x.mul(graph.slot(2), graph.slot(3))),
    ]
    const code: x.Code = { slots: 5, procedures: [{ name: 'go', body }] }
    const made = along(code, [3, 1], [0])
    expect([2, 3, 4].map(made.slope)).toEqual([6, 2, 6 * 6 + 9 * 2])
    expect(along(code, [3, 1], [0], new Set([2])).slope(4)).toBe(9 * 2)
  })
})
