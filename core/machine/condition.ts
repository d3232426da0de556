import type { Part } from '../document'
import { name, number } from '../kinds'
import type { Kind } from '../kinds'

/** What the engineer fixes while the rest of an operating point is found. */
export const condition = {
  name: 'condition',
  says: '{signal} at {value}',
  about:
    'A coordinate, state, input or output that keeps a value while the operating point is found; everything else goes where it balances.',
  slots: { signal: name({ label: 'what is fixed', of: 'fixable' }), value: number({ label: 'value', unit: '' }) },
} as const satisfies Kind

export interface Fixed {
  readonly signal: string
  readonly value: number
}

/** Conditions of a machine's operating point, in the order of the document. */
export function conditionsOf(machine: Part): Fixed[] {
  return Object.values((machine.conditions ?? {}) as Readonly<Record<string, Fixed>>).map(({ signal, value }) => ({
    signal,
    value,
  }))
}
