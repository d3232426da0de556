import { readFileSync } from 'node:fs'
import { parseDocument } from '../index'
import type { Document } from '../document'

/** The demo document, fresh. */
export function lamplighter(): Document {
  const parsed = parseDocument(lamplighterText())
  if (parsed.kind === 'refused') throw new Error(JSON.stringify(parsed.problems))
  return parsed.value.document
}

export function lamplighterText(): string {
  return readFileSync(new URL('../../demo/lamplighter.json', import.meta.url), 'utf8')
}
