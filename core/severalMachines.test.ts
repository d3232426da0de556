import { describe, expect, it } from 'vitest'
import { checkDocument } from './check'
import { replaceAt } from './document'
import type { Document } from './document'
import { compile, start } from './simulation'
import { demo, lampCascade, lamplighter } from './tests/demo'
import { expectDone } from './tests/expectDone'
import { analyse, designLoop, togetherFigures } from './tuning'

/** Two documents as one; names of the second that the first has get a letter more. */
const beside = (one: Document, other: Document): Document => ({
  ...one,
  ...Object.fromEntries(
    (['parameters', 'machines', 'scenes', 'loops', 'estimators', 'trials'] as const).map((group) => [
      group,
      { ...other[group], ...one[group] },
    ]),
  ),
})
const flown = (document: Document, trial: string) => {
  const { resolved } = expectDone(checkDocument(document))
  return start(expectDone(compile(resolved, trial))).run({ trial, layers: [], seed: 1 })
}

describe('several machines in one project', () => {
  const [turret, derrick] = [demo('lens-turret'), demo('derrick')]
  const both = beside(turret, derrick)

  it('have no problems of one another', () => {
    expect(checkDocument(both)).toMatchObject({ kind: 'done', value: { cautions: [] } })
  })

  it.each([
    ['passingShip', turret],
    ['hurried', derrick],
  ] as const)('run as alone, to the last bit: %s', (trial, alone) => {
    const [mine, theirs] = [flown(alone, trial), flown(both, trial)]
    expect(theirs.columns.map(({ name }) => name)).toEqual(mine.columns.map(({ name }) => name))
    theirs.columns.forEach(({ values }, i) => expect(values).toEqual(mine.columns[i]!.values))
  })

  it('are designed and judged as alone', () => {
    for (const [alone, loop] of [
      [turret, 'pan'],
      [derrick, 'hoist'],
    ] as const) {
      const [mine, theirs] = [alone, both].map((document) => {
        const { resolved } = expectDone(checkDocument(document))
        const { model, gains } = expectDone(designLoop(resolved, loop))
        const machine = resolved.loops[loop]!.machine
        return { gains, margin: analyse(model, gains).phaseMargin, together: togetherFigures(resolved, machine, 'commands') }
      })
      expect(theirs).toEqual(mine)
    }
  })

  it('may push and hold by the same names, each its own', () => {
    const { lamplighter: second } = lampCascade().machines
    const named = (part: object) => ({ ...part, machine: 'second' })
    const first = lamplighter()
    const loops = Object.entries(lampCascade().loops).map(([name, loop]) => [
      `${name}B`,
      { ...named(loop), pushes: loop.pushes.replace(/^loops\.(.*)/, 'loops.$1B') },
    ])
    const document = {
      ...first,
      machines: { ...first.machines, second },
      loops: { ...first.loops, ...Object.fromEntries(loops) },
      estimators: { ...first.estimators, filterB: named(lampCascade().estimators.heightFilter!) },
    } as unknown as Document
    expect(checkDocument(document).kind).toBe('done')
    const wrong = replaceAt<Document>(document, 'loops.heightB.pushes', 'loops.northSpeed')
    expect(checkDocument(wrong).kind).toBe('refused')
  })
})
