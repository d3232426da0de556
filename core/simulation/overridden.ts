import type { Part } from '../document'

/** A number of a machine as a trial's changes of that path make it, one after the other. */
export function overridden(value: number, path: string, overrides: Readonly<Record<string, Part>>): number {
  return Object.values(overrides)
    .filter((part) => part.parameter === path)
    .reduce((now, part) => (part.how === 'times' ? now * (part.amount as number) : (part.amount as number)), value)
}
