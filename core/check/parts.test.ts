import { expect, it, vi } from 'vitest'
import { replaceAt } from '../document'
import { demo } from '../tests/demo'
import { mutatedDocument, rightDocuments } from '../tests/mutated'
import { checkDocument } from './index'

it('says the same of a document, whatever was checked before it', async () => {
  const documents = [...rightDocuments, ...Array.from({ length: 80 }, (_, seed) => mutatedDocument(7000 + seed))]
  const forth = documents.map((one) => JSON.stringify(checkDocument(one)))
  // an engine that has met nothing yet, and meets them the other way round, as new objects each
  vi.resetModules()
  const other = await import('./index')
  const back = [...documents].reverse().map((one) => JSON.stringify(other.checkDocument(structuredClone(one))))
  expect(back.reverse()).toEqual(forth)
})

it('takes what is not quite the same for what it is', () => {
  const right = demo('lamplighter')
  const problemsOf = (document: unknown) => {
    const outcome = checkDocument(document)
    return outcome.kind === 'refused' ? outcome.problems.map(({ where }) => where) : []
  }
  const place = `machines.${Object.keys(right.machines)[0]!}.bodies.hull.mass`
  expect(problemsOf(replaceAt(right, place, null))).toEqual([place])
  // both are null in JSON
  expect(problemsOf(replaceAt(right, place, NaN))).toEqual([place])
  expect(problemsOf(right)).toEqual([])
  expect(problemsOf(replaceAt(right, place, NaN))).toEqual([place])
})

it('gives parts that are as before as the very same, also of another document', () => {
  const checked = (document: unknown) => {
    const outcome = checkDocument(document)
    if (outcome.kind === 'refused') throw new Error(JSON.stringify(outcome.problems))
    return outcome.value
  }
  const first = checked(demo('lamplighter'))
  checked(demo('derrick'))
  const [name] = Object.keys(first.document.loops) as [string]
  const again = checked({ ...structuredClone(first.document), title: 'Another' })
  expect(again.resolved.machines).toEqual(first.resolved.machines)
  for (const [machine, part] of Object.entries(again.resolved.machines)) expect(part).toBe(first.resolved.machines[machine])
  const edited = checked(replaceAt(structuredClone(first.document), `loops.${name}.label`, 'Else'))
  expect(edited.document.loops[name]).not.toBe(first.document.loops[name])
  // what did not change of a part that did
  expect(edited.document.loops[name]!.law).toBe(first.document.loops[name]!.law)
})
