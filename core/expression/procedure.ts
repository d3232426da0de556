import type { Flag, Scalar } from './graph'

/**
 * What a program does with its memory, a flat array of doubles ("slots"). One description is printed to
 * WebAssembly and to C, loops and integrators included, so that both run the same operations in the same order.
 */
export type Statement =
  /** All values are computed from memory as it was before, then stored. */
  | { readonly does: 'assign'; readonly values: readonly Assignment[] }
  | {
      readonly does: 'when'
      readonly condition: Flag
      readonly then: readonly Statement[]
      readonly otherwise: readonly Statement[]
    }
  | { readonly does: 'while'; readonly condition: Flag; readonly body: readonly Statement[] }
  | { readonly does: 'call'; readonly procedure: string }
  /** Copies `count` slots from `from` to the slot whose number `to` gives. */
  | { readonly does: 'copy'; readonly from: number; readonly count: number; readonly to: Scalar }

export interface Assignment {
  readonly slot: number
  readonly value: Scalar
}

export interface Procedure {
  readonly name: string
  readonly body: readonly Statement[]
}

export interface Code {
  /** Slots in use; printers add scratch slots and tables behind them. */
  readonly slots: number
  readonly procedures: readonly Procedure[]
}

export function assign(values: readonly Assignment[]): Statement {
  return { does: 'assign', values }
}

export function set(slot: number, value: Scalar): Statement {
  return assign([{ slot, value }])
}

export function call(procedure: string): Statement {
  return { does: 'call', procedure }
}

export function when(condition: Flag, then: readonly Statement[], otherwise: readonly Statement[] = []): Statement {
  return { does: 'when', condition, then, otherwise }
}

export function repeatWhile(condition: Flag, body: readonly Statement[]): Statement {
  return { does: 'while', condition, body }
}

export function copy(from: number, count: number, to: Scalar): Statement {
  return { does: 'copy', from, count, to }
}
