import type { Document } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { useOpen } from './project'

/** What people call a loop. */
export function loopLabel({ loops }: Pick<Document, 'loops'>, name: string): string {
  return labelOf(loops[name], name)
}

/** The same for the open project. */
export function useLoopLabel(name: string): string {
  return useOpen((project) => loopLabel(project.document, name))
}

/** Choices of named parts, each in its own words. */
export function labelled(
  parts: Readonly<Record<string, unknown>>,
  names: readonly string[] = Object.keys(parts),
): Record<string, string> {
  return Object.fromEntries(names.map((name) => [name, labelOf(parts[name] as never, name)]))
}
