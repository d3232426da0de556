import { done } from '@calm-hand/core/document'
import type { Document, Outcome, Part } from '@calm-hand/core/document'
import { isBodiless } from '@calm-hand/core/machine'
import type { MechanismLayerName } from '@calm-hand/core/machine'
import { equationsInLetters, linearInLetters, mechanismInLetters, transferInLetters } from '@calm-hand/core/letters'
import type { Letters, Naming } from '@calm-hand/core/letters'
import type { StateSpace } from '@calm-hand/core/linear'
import { modelReport, motionEffort } from '@calm-hand/core/simulation'
import type { ModelReport, MotionEffort } from '@calm-hand/core/simulation'

/** What can be said of a machine before anything controls it. */
export function report(document: Document, machine: string, layers: readonly MechanismLayerName[]): ModelReport {
  return modelReport(document.machines[machine]!, new Set(layers))
}

/** What a motion of a machine asks of its drives. */
export function effort(
  document: Document,
  machine: string,
  motion: string,
  layers: readonly MechanismLayerName[],
): Outcome<MotionEffort> {
  return motionEffort(document.machines[machine]!, motion, new Set(layers))
}

export interface LettersTold {
  readonly letters: Outcome<Letters>
  /** The linear form and its transfer functions: in letters where there are any, then in numbers. LaTeX. */
  readonly linear: readonly string[]
  readonly transfer: readonly string[]
}

/** Where a machine rests, as its report has it. */
export interface Resting {
  readonly q: readonly number[]
  readonly system: StateSpace
}

/** The equations of a machine in letters, linear about where it rests. `written` is the machine with its formulas as they stand. */
export function letters(
  document: Document,
  machine: string,
  written: Part,
  naming: Naming,
  rest: Resting | undefined,
): LettersTold {
  const part = document.machines[machine]!
  const told = isBodiless(part) ? done(equationsInLetters(written)) : mechanismInLetters(part, written, naming, rest?.q)
  const inLetters = told.kind === 'done' ? told.value.linear : undefined
  return {
    letters: told,
    linear: [...(inLetters?.lines ?? []), ...(rest === undefined ? [] : (linearInLetters(rest.system) ?? []))],
    transfer: [...(inLetters?.transfer ?? []), ...(rest === undefined ? [] : transferInLetters(rest.system))],
  }
}
