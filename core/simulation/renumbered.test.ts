import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { findAt, partsIn, replaceAt } from '../document'
import type { Document } from '../document'
import { fingerprint } from '../expression'
import { machineNumbers } from '../machine'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile, noteNumbers, renumbered, start } from './index'
import type { Program, Record as RunRecord } from './index'

/** Every number of its tuning and of its cues, by its path. */
function numbersOf(document: Document, trial: string): readonly string[] {
  const inside = (path: string) =>
    Object.entries(findAt(document, path) as object).flatMap(([slot, value]) =>
      typeof value === 'number' ? [`${path}.${slot}`] : [],
    )
  return [
    ...Object.keys(document.loops).flatMap((name) => inside(`loops.${name}.tuning`)),
    ...Object.keys(partsIn(document.trials[trial]!.cues)).flatMap((cue) => inside(`trials.${trial}.cues.${cue}`)),
  ]
}

const bytesOf = ({ buffer, byteOffset, byteLength }: Float64Array) => Buffer.from(buffer, byteOffset, byteLength)

const asIs = ({ parameters, ticks, tick, hash, recordEvery, columns, touches, hands, slots: { row, states } }: Program) => ({
  ...{ parameters, ticks, tick, hash, recordEvery, columns, touches, hands, row, states },
})

/** A program with another number at a path is that which compiling gives, to the last number of it. */
function expectSame(path: string, found: Program, built: Program): void {
  expect([path, fingerprint(found.code)]).toEqual([path, fingerprint(built.code)])
  expect(asIs(found)).toEqual(asIs(built))
}

describe.each([
  ['lamplighter', 'galleryDelivery', 5, 8],
  ['lens-turret', 'weakMotor', 2, 4],
  ['derrick', 'squall', 2, 6],
  ['slip-tractor', 'byPedal', 1, 4],
])('%s, %s with another number', (name, trial, every, least) => {
  const document = demo(name)
  const program = expectDone(compile(document, trial))

  it('is the program that compiling gives, to the last number of it', () => {
    let count = 0
    for (const path of numbersOf(document, trial).filter((_, i) => i % every === 0)) {
      const was = findAt(document, path) as number
      const next = replaceAt<Document>(document, path, was === 0 ? 0.25 : was * 1.0625)
      if (checkDocument(next).kind === 'refused') continue
      const made = compile(next, trial)
      const found = renumbered(program, document, next, trial)
      if (found === undefined) continue
      count++
      expectSame(path, found, expectDone(made))
    }
    expect(count).toBeGreaterThanOrEqual(least)
  })
})

describe.each([
  ['lamplighter', 'galleryDelivery', 45, 3],
  ['sprung-cabin', 'waveStep', 12, 3],
  ['slip-tractor', 'haulingUp', 14, 3],
  // its loops read an observer, whose numbers follow from the machine
  ['porter', 'berthToBerth', 60, 2],
])('%s, %s with another number of its machine under the hand', (name, trial, every, least) => {
  const document = demo(name)
  const machine = document.trials[trial]!.machine
  const program = expectDone(compile(document, trial))

  it('is the program that compiling gives, once that was seen to differ in memory alone', () => {
    let count = 0
    const numbers = machineNumbers(document.machines[machine]!).filter(({ value }) => value !== 0)
    for (const { path, value } of numbers.filter((_, i) => i % every === 0)) {
      const whole = `machines.${machine}.${path}`
      const [seen, next] = [1.0625, 0.9375].map((by) => replaceAt<Document>(document, whole, value * by)) as [Document, Document]
      if (checkDocument(seen).kind === 'refused' || checkDocument(next).kind === 'refused') continue
      expect(renumbered(program, document, next, trial, 'followed')).toBeUndefined()
      const first = compile(seen, trial)
      if (first.kind === 'refused') continue
      noteNumbers(program, document, first.value, seen, trial)
      const found = renumbered(program, document, next, trial, 'followed')
      if (found === undefined) continue
      count++
      expectSame(path, found, expectDone(compile(next, trial)))
    }
    expect(count).toBeGreaterThanOrEqual(least)
  })
})

describe('what is not a matter of numbers in memory', () => {
  const document = demo('lamplighter')
  const program = expectDone(compile(document, 'galleryDelivery'))
  const of = (path: string, value: unknown) =>
    renumbered(program, document, replaceAt<Document>(document, path, value), 'galleryDelivery')

  it.each([
    ['a number of the machine', 'machines.lamplighter.bodies.hull.mass', 1.7],
    ['the rate of a loop', 'loops.height.rate', 100],
    ['another law', 'loops.height.law.kind', 'proportionalIntegral'],
    ['what a cue adds to the machine', 'trials.galleryDelivery.cues.squall.x', 3.6],
    ['a number that is nothing', 'trials.galleryDelivery.cues.rise.by', 0],
    ['how a cue ends', 'trials.galleryDelivery.cues.rise.until', { kind: 'lasting', time: 3 }],
    ['a requirement out of reach', 'loops.climbRate.tuning.crossover', 400],
  ])('%s is compiled', (_what, path, value) => {
    expect(of(path, value)).toBeUndefined()
  })

  it('a number of the machine is so only under the hand, while it keeps its sign, and where a program reads it', () => {
    const mass = 'machines.lamplighter.bodies.hull.mass'
    const at = (path: string, value: number) => replaceAt<Document>(document, path, value)
    const note = (path: string, value: number) =>
      noteNumbers(program, document, expectDone(compile(at(path, value), 'galleryDelivery')), at(path, value), 'galleryDelivery')
    note(mass, 1.7)
    expect(of(mass, 1.6)).toBeUndefined()
    expect(renumbered(program, document, at(mass, 1.6), 'galleryDelivery', 'followed')).toBeDefined()
    expect(renumbered(program, document, at(mass, -1.6), 'galleryDelivery', 'followed')).toBeUndefined()
    // an axis is brought to its length before anybody sees it
    const axis = 'machines.lamplighter.pushes.lift.axis.2'
    note(axis, 2)
    expect(renumbered(program, document, at(axis, 1.5), 'galleryDelivery', 'followed')).toBeUndefined()
  })

  it('what the trial changes of the machine is so as well, and designs stay as they are', () => {
    const change = 'trials.galleryDelivery.overrides.empty.amount'
    const [seen, next] = [0.01, 0.012].map((value) => replaceAt<Document>(document, change, value)) as [Document, Document]
    const first = expectDone(compile(seen, 'galleryDelivery'))
    noteNumbers(program, document, first, seen, 'galleryDelivery')
    expect(renumbered(program, document, next, 'galleryDelivery')).toBeUndefined()
    // that says nothing of the mass that the model and its loops know
    const known = replaceAt<Document>(document, 'machines.lamplighter.bodies.crate.mass', 0.5)
    expect(renumbered(program, document, known, 'galleryDelivery', 'followed')).toBeUndefined()
    const found = renumbered(program, document, next, 'galleryDelivery', 'followed')!
    expect(asIs(found)).toEqual(asIs(expectDone(compile(next, 'galleryDelivery'))))
    expect(found.loops).toBe(program.loops)
    expect(found.parameters).not.toEqual(program.parameters)
  })

  it('runs as one that was compiled under the hand, as far from what stands around', () => {
    const mass = 'machines.lamplighter.bodies.hull.mass'
    const [seen, next] = [1.7, 1.6].map((value) => replaceAt<Document>(document, mass, value)) as [Document, Document]
    noteNumbers(program, document, expectDone(compile(seen, 'galleryDelivery')), seen, 'galleryDelivery')
    const run = (one: Program) => start(one).run({ trial: 'galleryDelivery', layers: [], seed: 3 })
    const found = run(renumbered(program, document, next, 'galleryDelivery', 'followed')!)
    const built = run(expectDone(compile(next, 'galleryDelivery')))
    expect(Buffer.compare(bytesOf(found.rows!), bytesOf(built.rows!))).toBe(0)
    expect(found.hash).toBe(built.hash)
  })

  it('runs as one that was compiled, also where it ends later', () => {
    const next = replaceAt<Document>(document, 'trials.galleryDelivery.cues.down.over', 14)
    const run = (one: Program) => start(one).run({ trial: 'galleryDelivery', layers: [], seed: 3 })
    const [found, built] = [
      run(renumbered(program, document, next, 'galleryDelivery')!),
      run(expectDone(compile(next, 'galleryDelivery'))),
    ]
    expect(found.time.length).toBe(built.time.length)
    // lists of numbers by their bits: told one by one they would take the longest of all
    const same = found.columns.map(({ values }, i) => Buffer.compare(bytesOf(values), bytesOf(built.columns[i]!.values)))
    expect(same.every((difference) => difference === 0)).toBe(true)
    const told = ({ hash, ending, cues, seed, layers }: RunRecord) => ({ hash, ending, cues, seed, layers })
    expect(told(found)).toEqual(told(built))
  })
})
