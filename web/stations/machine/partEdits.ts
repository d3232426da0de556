import { findAt, partsIn, replaceAt } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { blankPart } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { freshNumbers } from '@calm-hand/core/machine'
import { setValue } from '../../state/edits'
import type { Edit } from '../../state/edits'

export interface Added {
  readonly name: string
  readonly change: Edit
}

/** A new part of a kind in a group of a machine, with what is known of its slots. */
export function addPartTo(
  path: string,
  machine: Part,
  group: string,
  kind: AnyKind,
  fresh: Readonly<Record<string, unknown>>,
): Added {
  const name = freeName(Object.keys(partsIn(machine[group])), shortName(kind.name))
  const sized = freshNumbers(machine, kind.name, String(fresh.joint ?? ''))
  const given = Object.fromEntries(Object.entries({ ...fresh, ...sized }).filter(([slot]) => slot in kind.slots))
  return { name, change: setValue(`${path}.${group}.${name}`, blankPart(kind, given), `Add ${name}`) }
}

/** A copy from the shelf, under its own name where that is free. */
export function takePart(path: string, machine: Part, group: string, part: Part, wanted: string): Added {
  const name = freeName(Object.keys(partsIn(machine[group])), wanted)
  return { name, change: setValue(`${path}.${group}.${name}`, part, `Take ${name}`) }
}

const required = new Set(['states', 'inputs'])

export function removePartFrom(path: string, group: string, name: string): Edit {
  const only = (document: Document) => Object.keys((findAt(document, `${path}.${group}`) ?? {}) as object).length === 1
  return {
    label: `Remove ${name}`,
    // a group that may be left out goes with its last part
    apply: (document) =>
      replaceAt(document, only(document) && !required.has(group) ? `${path}.${group}` : `${path}.${group}.${name}`, undefined),
  }
}

/** `equationState` is a state, `plainInput` an input. */
function shortName(kind: string): string {
  return kind.replace(/^(equation|plain|nominal|sign|order)(?=[A-Z])/, '').replace(/^[A-Z]/, (letter) => letter.toLowerCase())
}

export function freeName(taken: readonly string[], wanted: string): string {
  if (!taken.includes(wanted)) return wanted
  for (let i = 2; ; i++) if (!taken.includes(`${wanted}${i}`)) return `${wanted}${i}`
}
