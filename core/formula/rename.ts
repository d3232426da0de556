import { isFormula } from './resolve'

/** A document with a parameter under another name, in its own place and in every formula that uses it. */
export function renameParameter<Root extends { readonly [field: string]: unknown }>(
  document: Root,
  from: string,
  to: string,
): Root {
  const renamed = (value: unknown): unknown => {
    if (isFormula(value)) return renamedFormula(value, from, to)
    if (Array.isArray(value)) return value.map(renamed)
    if (typeof value !== 'object' || value === null) return value
    return Object.fromEntries(Object.entries(value).map(([key, item]) => [key, renamed(item)]))
  }
  const { parameters, ...rest } = renamed(document) as { parameters?: Readonly<Record<string, unknown>> }
  const moved = Object.fromEntries(Object.entries(parameters ?? {}).map(([name, part]) => [name === from ? to : name, part]))
  return { ...rest, parameters: moved } as unknown as Root
}

/** A formula with one name changed; names after a dot belong to something else. */
export function renamedFormula(text: string, from: string, to: string): string {
  return text.replace(new RegExp(`(?<![A-Za-z0-9_.])${from}(?![A-Za-z0-9_])`, 'g'), to)
}
