import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseDocument } from '../index'
import type { Document } from '../document'

/** The demo document, fresh. */
export function lamplighter(): Document {
  const parsed = parseDocument(lamplighterText())
  if (parsed.kind === 'refused') throw new Error(JSON.stringify(parsed.problems))
  return parsed.value.document
}

export function lamplighterText(): string {
  return readFileSync(join(import.meta.dirname, '../../demo/lamplighter.json'), 'utf8')
}
