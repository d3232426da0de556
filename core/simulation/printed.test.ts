import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { Graph, add, call, less, loadModule, lookup, mul, set, sin, when } from '../expression'
import type { Code, Flag, Scalar } from '../expression'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile } from './compile'
import { printed } from './printed'

/** A program that stores one value. */
const program = (value: (x: Scalar, graph: Graph) => Scalar, name = 'step') => {
  const graph = new Graph()
  return { slots: 2, procedures: [{ name, body: [set(1, value(graph.slot(0), graph))] }] }
}

describe('a printed program', () => {
  it('is the very same one for the same code, made anew', () => {
    const make = () => program((x) => add(sin(mul(3, x)), 0.1))
    expect(printed(make())).toBe(printed(make()))
  })

  it.each<[what: string, other: ReturnType<typeof program>]>([
    ['another constant', program((x) => add(mul(3, x), 0.2))],
    ['a constant of the other sign', program((x) => add(mul(3, x), -0.1))],
    ['another slot', program((_, graph) => add(mul(3, graph.slot(1)), 0.1))],
    ['another operation', program((x) => mul(mul(3, x), 0.1))],
    ['another order', program((x) => mul(3, add(x, 0.1)))],
    ['another procedure', program((x) => add(mul(3, x), 0.1), 'move')],
    ['a table', program((x) => add(mul(3, lookup({ name: 'levels', values: [1, 2] }, x)), 0.1))],
  ])('is another one with %s', (_, other) => {
    expect(printed(other)).not.toBe(printed(program((x) => add(mul(3, x), 0.1))))
  })

  it('tells a condition that is known from one that is worked out, and either known one from the other', () => {
    const guarded = (condition: Flag): Code => ({
      slots: 2,
      procedures: [{ name: 'step', body: [when(condition, [set(1, 1)], [set(1, 2)])] }],
    })
    const worked = less(new Graph().slot(0), 1)
    const modules = [true, false, worked].map((one) => printed(guarded(one)))
    expect(new Set(modules).size).toBe(3)
  })

  it('tells tables apart by their values, and statements by what they do', () => {
    const read = (values: readonly number[]) => program((x) => lookup({ name: 'levels', values }, x))
    expect(printed(read([1, 2]))).not.toBe(printed(read([1, 3])))
    const whole = (body: Code['procedures'][number]['body']): Code => ({
      slots: 2,
      procedures: [
        { name: 'a', body },
        { name: 'b', body: [] },
      ],
    })
    expect(printed(whole([call('b')]))).not.toBe(printed(whole([])))
  })

  it('keeps the memory of each that runs it to itself', () => {
    const module = printed(program((x) => mul(2, x)))
    const [one, other] = [loadModule(module), loadModule(module)]
    one.memory()[0] = 3
    one.call('step')
    other.call('step')
    expect([one.memory()[1], other.memory()[1]]).toEqual([6, 0])
  })
})

describe('a trial', () => {
  const moduleOf = (document: Document, trial: string) => {
    const { resolved } = expectDone(checkDocument(document))
    return expectDone(compile(resolved, trial)).module
  }

  it.each([
    ['lamplighter', 'galleryRise', 'machines.lamplighter.bodies.hull.mass', 1.7],
    ['lamplighter', 'galleryRise', 'loops.height.tuning.crossover', 1.2],
    ['derrick', 'deckToQuay', 'loops.luff.tuning.crossover', 11.5],
    ['derrick', 'deckToQuay', 'trials.deckToQuay.seed', 9],
  ])('of %s, %s, with another %s is the same program', (name, trial, path, value) => {
    const changed = replaceAt<Document>(demo(name), path, value)
    expect(moduleOf(changed, trial)).toBe(moduleOf(demo(name), trial))
  })

  it('with another structure is another', () => {
    const changed = replaceAt<Document>(demo('derrick'), 'trials.deckToQuay.realism.sampling', false)
    expect(moduleOf(changed, 'deckToQuay')).not.toBe(moduleOf(demo('derrick'), 'deckToQuay'))
  })
})
