import { describe, expect, it } from 'vitest'
import { replaceAt } from './document'
import type { Document } from './document'
import { everyPart, isPart } from './kinds'
import { checkDocument, groups, placeInWords, problemInWords } from './index'
import { demo, demoNames, lamplighter } from './tests/demo'
import { mutatedDocument } from './tests/mutated'

describe('a place in words', () => {
  it.each([
    ['machines.turret.bodies.yoke.mass', 'mass of yoke'],
    ['machines.turret.bodies.yoke.centre.2', 'centre of mass z of yoke'],
    ['machines.turret.bodies.lens.joint.axis.0', 'axis x of lens'],
    ['machines.turret.drives.panMotor', 'pan motor'],
    ['machines.turret', 'turret'],
    ['machines.turret.gravity', 'gravity of turret'],
    ['loops.pan.rate', 'sample rate of pan'],
    ['loops.pan.tuning.crossover', 'crossover of pan'],
    ['trials.passingShip', 'Passing ship'],
  ])('%s is %s', (path, words) => {
    expect(placeInWords(demo('lens-turret'), path)).toBe(words)
  })

  it('is in the words that people gave', () => {
    const named = replaceAt<Document>(lamplighter(), 'machines.lamplighter.bodies.crate.label', 'Kiste für Öl')
    expect(placeInWords(named, 'machines.lamplighter.bodies.crate.mass')).toBe('mass of Kiste für Öl')
  })

  it('stays as it is written where no kind knows it', () => {
    for (const path of [
      '',
      'title',
      'machines.nobody.mass',
      'machines.lamplighter.bodies.nobody.mass',
      'loops.height.no',
      'row 3',
    ])
      expect(placeInWords(lamplighter(), path)).toBe(path)
  })

  it.each(demoNames)('of every part and slot of %s has no identifier in it', (name) => {
    const document = demo(name)
    for (const group of Object.keys(groups) as (keyof typeof groups)[])
      for (const [key, part] of Object.entries(document[group] ?? {}))
        for (const { path, kind } of everyPart(groups[group], `${group}.${key}`, part))
          for (const place of [path, ...Object.keys(kind.slots).map((slot) => `${path}.${slot}`)])
            expect(placeInWords(document, place)).not.toMatch(/[a-z][A-Z]|\w\.\w/)
  })
})

describe('a problem in words', () => {
  const wrong = (path: string, value: unknown) => {
    const document = replaceAt<Document>(demo('derrick'), path, value)
    const outcome = checkDocument(document)
    if (outcome.kind === 'done') throw new Error('It is wrong.')
    return problemInWords(document, outcome.problems[0]!)
  }
  it('says what it says of a machine in the words of that', () => {
    const { what, remedy } = wrong('loops.luff.pushes', 'drives.lufff')
    expect(`${what} ${remedy}`).toBe('There is no push named lufff. Did you mean luff?')
    const held = wrong('loops.luff.holds', 'boom.angel')
    expect(`${held.what} ${held.remedy}`).not.toMatch(/boom\.angle/)
  })
  it('leaves formulas alone, which say identifiers', () => {
    const [name] = Object.keys(demo('derrick').machines)
    const { what } = wrong(`machines.${name!}.sensors`, {
      level: { kind: 'formulaSensor', reading: 'boom.angle + boom.angel', rate: 50 },
    })
    expect(what).toMatch(/boom\.angel/)
  })

  it('can be told of any document, however broken', () => {
    let told = 0
    for (let seed = 0; seed < 400; seed++) {
      const document = mutatedDocument(seed) as Document
      const outcome = checkDocument(document)
      if (outcome.kind === 'done' || !isPart({ kind: '', ...document })) continue
      for (const problem of outcome.problems) {
        expect(problemInWords(document, problem).where).toBe(problem.where)
        told++
      }
    }
    expect(told).toBeGreaterThan(100)
  })
})
