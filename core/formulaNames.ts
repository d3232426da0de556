import { groups } from './check'
import { laws, stops } from './control'
import { partAt } from './document'
import type { Document } from './document'
import { everyPart, findKind, isPart } from './kinds'
import { machineFormulaNames } from './machine'

/**
 * Names that the formula at a document path may use: those of its owner, then the parameters. A number that is written as a
 * formula knows parameters only; a protective stop, which is built into the loop as it is, knows none. Also of a document that
 * has problems.
 */
export function formulaNames(document: Document, path: string): readonly string[] {
  const [group, name, ...rest] = path.split('.') as [keyof typeof groups, string, ...string[]]
  const parameters = Object.keys(document.parameters ?? {})
  const part = partAt(document, `${group}.${name}`)
  const [slot, ownPath] = [rest.at(-1)!, rest.slice(0, -1).join('.')]
  const all = part === undefined ? [] : everyPart(groups[group], '', part)
  const owner = all.find((one) => one.path === (ownPath === '' ? '' : `.${ownPath}`))
  if (part === undefined || owner?.kind.slots[slot]?.type !== 'formula') return parameters
  if (rest[0] === 'stops') return findKind(stops, owner.part)?.formulaNames ?? []
  const own = group === 'machines' ? machineFormulaNames(part, ownPath, owner.kind) : lawNames(part.law)
  return [...new Set([...own, ...parameters])]
}

function lawNames(law: unknown): readonly string[] {
  return isPart(law) ? (findKind(laws, law)?.formulaNames?.(law) ?? []) : []
}
