import type { Document } from '@calm-hand/core/document'

/** Parameters of a document by the place that is told, with what they mean. */
export function parameterWords(parameters: Document['parameters']): Readonly<Record<string, string>> {
  return Object.fromEntries(
    Object.entries(parameters ?? {}).map(([name, { meaning }]) => [
      `parameters.${name}`,
      `${name}${meaning ? `: ${meaning as string}` : ''}`,
    ]),
  )
}
