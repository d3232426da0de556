import { singularValues } from '../../algebra'
import { nameRemedy, partsIn } from '../../document'
import type { Part, Problem } from '../../document'
import { findKind, namesIn } from '../../kinds'
import { ground } from '../assemble'
import { effectParts } from '../mechanismMotion'
import { numbersOf } from '../numbers'
import { typedMix, withinLimits } from './allocations'
import { bodyPush } from './bodyPush'
import { pushes as pushKinds } from './list'
import { pushPart } from './pushPart'
import { allocationParts, givenBy } from './spread'

/** Of the largest: a push that drives give less of is one that they cannot give apart from the others. */
const leastShare = 1e-9

/** What is wrong with the pushes of a mechanism and how they are spread, once the names of its bodies are right. */
export function pushProblems(path: string, machine: Part): Problem[] {
  const parts = Object.entries(partsIn(machine.pushes))
  const drives = effectParts(machine)
    .filter(({ kind }) => kind.input !== undefined)
    .map((one) => one.path)
  const own = parts.flatMap(([name, part]) => partProblems(`${path}.pushes.${name}`, part, drives))
  const names = parts.map(([name]) => `pushes.${name}`)
  const spreads = allocationParts(machine)
  const all = spreads.flatMap((one) => listProblems(`${path}.${one.path}`, one.part, names, drives))
  if (own.length + all.length > 0) return [...own, ...all]
  const given = new Set(spreads.flatMap(({ part }) => namesIn(part.pushes)))
  const idle = names
    .filter((name) => !given.has(name))
    .map((name): Problem => {
      const what = 'The push is spread over no drives, so nothing gives it.'
      return { where: `${path}.${name}`, what, remedy: 'Add an allocation that names it, or remove it.' }
    })
  const elsewhere = spreads.flatMap((one) => strayProblems(path, machine, one))
  const twice = [...elsewhere, ...doubled(path, spreads, 'pushes'), ...doubled(path, spreads, 'drives')]
  if (idle.length + twice.length > 0) return [...idle, ...twice]
  return spreads.flatMap((one) => reachProblems(path, machine, one))
}

function partProblems(where: string, part: Part, drives: readonly string[]): Problem[] {
  if (findKind(pushKinds, part)?.name === bodyPush.name) {
    if (part.body === ground)
      return [{ where: `${where}.body`, what: 'Ground does not move when it is pushed.', remedy: 'Name a body of the machine.' }]
    if ((part.axis as readonly number[]).every((value) => value === 0))
      return [
        { where: `${where}.axis`, what: 'The axis is 0 0 0, which is no direction.', remedy: 'Give a direction, such as 0 0 1.' },
      ]
    return []
  }
  const named = namesIn(part.drives)
  const found = unknownIn(`${where}.drives`, named, drives, 'drive')
  return found.length > 0 ? found : shapeProblems(`${where}.shares`, part.shares, 1, named.length, 'one for each drive')
}

function listProblems(where: string, part: Part, pushes: readonly string[], drives: readonly string[]): Problem[] {
  const [asked, over] = [namesIn(part.pushes), namesIn(part.drives)]
  const strangers = [
    ...unknownIn(`${where}.pushes`, asked, pushes, 'push'),
    ...unknownIn(`${where}.drives`, over, drives, 'drive'),
  ]
  if (strangers.length > 0) return strangers
  if (part.kind === withinLimits.name) return shapeProblems(`${where}.counts`, part.counts, 1, asked.length, 'one for each push')
  if (part.kind === typedMix.name)
    return shapeProblems(`${where}.mix`, part.mix, over.length, asked.length, 'a row a drive, a column a push')
  return []
}

function unknownIn(where: string, names: readonly string[], known: readonly string[], sort: string): Problem[] {
  if (names.length === 0) {
    const remedy = known.length === 0 ? `Add a ${sort} first.` : `Name one or more of ${known.join(', ')}.`
    return [{ where, what: `It names no ${sort}.`, remedy }]
  }
  const stranger = names.find((name) => !known.includes(name))
  if (stranger !== undefined)
    return [{ where, what: `There is no ${sort} named ${stranger}.`, remedy: nameRemedy(stranger, known) }]
  const twice = names.find((name, i) => names.indexOf(name) !== i)
  return twice === undefined ? [] : [{ where, what: `${twice} is named twice.`, remedy: `Name each ${sort} once.` }]
}

function shapeProblems(where: string, given: unknown, rows: number, columns: number, words: string): Problem[] {
  const table = given as readonly (readonly number[])[]
  if (table.length === rows && table.every((row) => row.length === columns)) return []
  const what = `The table has ${table.length} rows of ${table[0]?.length ?? 0}; ${rows} of ${columns} are wanted.`
  return [{ where, what, remedy: `Give numbers: ${words}.` }]
}

/** A mixture of drives that its allocation does not name would be given in part. */
function strayProblems(path: string, machine: Part, { path: own, part }: ReturnType<typeof allocationParts>[number]): Problem[] {
  const over = namesIn(part.drives)
  return namesIn(part.pushes).flatMap((push): Problem[] => {
    const stray = namesIn(pushPart(machine, push).drives).find((drive) => !over.includes(drive))
    if (stray === undefined || part.kind === typedMix.name) return []
    const what = `${push} is a mixture with ${stray}, which this allocation does not name.`
    return [{ where: `${path}.${own}.drives`, what, remedy: `Name ${stray} too, or take it out of the mixture.` }]
  })
}

function doubled(path: string, spreads: ReturnType<typeof allocationParts>, slot: 'pushes' | 'drives'): Problem[] {
  const seen = new Set<string>()
  return spreads.flatMap(({ path: own, part }) =>
    namesIn(part[slot]).flatMap((name): Problem[] => {
      if (!seen.has(name)) {
        seen.add(name)
        return []
      }
      const what = `${name} is in another allocation already.`
      return [{ where: `${path}.${own}.${slot}`, what, remedy: 'Name it in one of them only.' }]
    }),
  )
}

/** Too many pushes for the drives, or some that these cannot tell apart. */
function reachProblems(path: string, machine: Part, { path: own, part }: ReturnType<typeof allocationParts>[number]): Problem[] {
  if (part.kind === typedMix.name) return []
  const names = namesIn(part.pushes)
  const drives = effectParts(machine)
  const named = namesIn(part.drives).map((drive) => drives.find((one) => one.path === drive)!)
  const where = `${path}.${own}.pushes`
  if (names.length > named.length) {
    const what = `${names.length} pushes are more than ${named.length} ${named.length === 1 ? 'drive' : 'drives'} can give apart.`
    return [{ where, what, remedy: 'Leave out pushes, or name more drives.' }]
  }
  const b = givenBy(machine, numbersOf(machine), names, named) as readonly (readonly number[])[]
  const flat = b.flat()
  if (!flat.every(Number.isFinite) || flat.every((value) => value === 0)) {
    const what = 'These pushes cannot be told apart, or nothing moves along them.'
    return [{ where, what, remedy: 'Give pushes of one body different axes, along which it can move.' }]
  }
  const none = names.find((_, i) => Math.max(...b[i]!.map(Math.abs)) < leastShare * Math.max(...flat.map(Math.abs)))
  if (none !== undefined) {
    const what = `None of its drives gives any ${pushPart(machine, none).label ?? none.replace(/^pushes\./, '')}.`
    return [{ where, what: String(what), remedy: 'Leave it out, or name drives that give it.' }]
  }
  const { values } = singularValues(b.map((row) => [...row]))
  if (values[names.length - 1]! > leastShare * values[0]!) return []
  const what = 'Its drives give some of these pushes only together, not one without another.'
  return [{ where, what, remedy: 'Leave one of them out, or name drives that lie or point otherwise.' }]
}
