import { withNewName } from '@calm-hand/core'
import type { Document } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { edit } from './project'

/** What people call a loop. */
export function loopLabel({ loops }: Pick<Document, 'loops'>, name: string): string {
  return labelOf(loops[name], name)
}

/** Choices of named parts, each in its own words. */
export function labelled(
  parts: Readonly<Record<string, unknown>>,
  names: readonly string[] = Object.keys(parts),
): Record<string, string> {
  return Object.fromEntries(names.map((name) => [name, labelOf(parts[name] as never, name)]))
}

/** Names a part of the open project; gives its identifier, which follows the words. */
export function rename(document: Document, path: string, words: string): string {
  edit({ label: `Name it ${words}`, apply: (current) => withNewName(current, path, words).document })
  return withNewName(document, path, words).path.split('.').at(-1)!
}
