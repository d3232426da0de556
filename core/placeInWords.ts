import { groups } from './check'
import { findAt } from './document'
import type { Document, Part, Problem } from './document'
import { everyPart, isPart, labelOf } from './kinds'
import type { FoundPart } from './kinds'
import { outputNames, shortName } from './machine'

/**
 * A place of a document as people say it: `machines.turret.bodies.yoke.mass` is "mass of yoke", `loops.pan.rate` "sample
 * rate of pan". A place that no kind knows stays as it is written.
 */
export function placeInWords(document: Document, path: string): string {
  const [group, name] = path.split('.') as [keyof typeof groups, string?]
  const part: Part | undefined = Object.hasOwn(groups, group) ? document[group]?.[name ?? ''] : undefined
  if (name === undefined || !isPart(part)) return path
  // trials have a title, other parts a label
  const own = typeof part.title === 'string' ? part.title : labelOf(part, name)
  // a machine goes without saying once one of its parts is named
  const within = everyPart(groups[group], `${group}.${name}`, part, group === 'machines' ? '' : own)
  const here = within.find((one) => one.path === path)
  // outer parts come before what is in them
  const owner = within.filter((one) => path.startsWith(`${one.path}.`)).at(-1)
  if (owner === undefined) return here === undefined ? path : own
  return here !== undefined && here.words !== owner.words ? here.words : slotInWords(owner, path, own)
}

/** `own`: what the whole is called, where its own slot is meant. */
function slotInWords({ kind, path: owner, words }: FoundPart, path: string, own: string): string {
  const [first, second] = path.slice(owner.length + 1).split('.') as [string, string?]
  const slot = kind.slots[first]
  if (slot === undefined || (slot.type === 'parts' && second !== undefined)) return path
  const component = slot.type === 'vector' && second !== undefined ? ` ${slot.components[Number(second)] ?? ''}` : ''
  const row = slot.type === 'table' && second !== undefined ? `, row ${Number(second) + 1}` : ''
  return `${slot.label}${component}${row} of ${words === '' ? own : words}`
}

/** Names of inputs, readings and the like, which begin with their group, and of coordinates. */
const dotted = /[A-Za-z_]\w*(?:\.[A-Za-z_]\w*)+/g
const grouped = /^(drives|pushes|forces|chains|readings|sensors)\./

/**
 * A problem as people read it: what it says of the parts of its machine in their words. What is wrong with a formula stays as
 * it is, as formulas say identifiers.
 */
export function problemInWords(document: Document, problem: Problem): Problem {
  const [group, name] = problem.where.split('.')
  const owner = group === 'machines' ? name : findAt(document, `${group}.${name}.machine`)
  const machine = findAt(document, `machines.${String(owner)}`)
  if (!isPart(machine) || problem.what.startsWith('In the formula ')) return problem
  const coordinates = new Set(outputNames(machine))
  const words = (text: string) =>
    text.replace(dotted, (said) => (grouped.test(said) || coordinates.has(said) ? shortName(said, machine) : said))
  return { ...problem, what: words(problem.what), remedy: words(problem.remedy) }
}
