import { isFormula } from './resolve'

/** A document with a parameter under another name, in its own place and in every formula that uses it. */
export function renameParameter<Root extends { readonly [field: string]: unknown }>(
  document: Root,
  from: string,
  to: string,
): Root {
  const word = new RegExp(`(?<![A-Za-z0-9_.])${from}(?![A-Za-z0-9_])`, 'g')
  const renamed = (value: unknown): unknown => {
    if (isFormula(value)) return value.replace(word, to)
    if (Array.isArray(value)) return value.map(renamed)
    if (typeof value !== 'object' || value === null) return value
    return Object.fromEntries(Object.entries(value).map(([key, item]) => [key, renamed(item)]))
  }
  const { parameters, ...rest } = renamed(document) as { parameters?: Readonly<Record<string, unknown>> }
  const moved = Object.fromEntries(Object.entries(parameters ?? {}).map(([name, part]) => [name === from ? to : name, part]))
  return { ...rest, parameters: moved } as unknown as Root
}
