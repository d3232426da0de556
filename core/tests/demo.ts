import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { parseDocument } from '../index'
import { replaceAt } from '../document'
import type { Document } from '../document'

const folder = join(import.meta.dirname, '../../demo')

/** Names of all demo documents. */
export const demoNames = readdirSync(folder)
  .filter((file) => file.endsWith('.json'))
  .map((file) => file.replace('.json', ''))

/** A demo document, fresh. */
export function demo(name: string): Document {
  const parsed = parseDocument(demoText(name))
  if (parsed.kind === 'refused') throw new Error(JSON.stringify(parsed.problems))
  return parsed.value.resolved
}

export function lamplighter(): Document {
  return demo('lamplighter')
}

/** Where the air does not resist, its height is a pure inertia behind the rotors' lag. */
export function lamplighterInVacuum(): Document {
  return replaceAt(lamplighter(), 'machines.lamplighter.drag', 0)
}

export function lamplighterText(): string {
  return demoText('lamplighter')
}

/** The text of a demo document, as it is written. */
export function demoText(name: string): string {
  return readFileSync(join(folder, `${name}.json`), 'utf8')
}
