import { readFileSync, statSync } from 'node:fs'
import { parseDocument } from '@calm-hand/core'
import type { Checked } from '@calm-hand/core'
import { done, mostDocumentCharacters, refusedFor, valueOfJson } from '@calm-hand/core/document'
import type { Outcome } from '@calm-hand/core/document'

/** The text of a file, or of standard input for `-`. */
export function readText(path: string): Outcome<string> {
  try {
    if (path !== '-' && statSync(path).size > 4 * mostDocumentCharacters) {
      return refusedFor(
        path,
        `The file has ${statSync(path).size} bytes, far more than a document may have.`,
        'Check that it is the right file.',
      )
    }
    return done(readFileSync(path === '-' ? 0 : path, 'utf8'))
  } catch (error) {
    return refusedFor(path, `The file cannot be read: ${(error as Error).message}`, 'Check the path.')
  }
}

/** A checked document: as written, and with its formulas worked out. */
export function readDocument(path: string): Outcome<Checked> {
  const text = readText(path)
  return text.kind === 'refused' ? text : parseDocument(text.value)
}

export function readJson(path: string): Outcome<unknown> {
  const text = readText(path)
  return text.kind === 'refused' ? text : valueOfJson(text.value, path, 'Correct the file at the place named.')
}
