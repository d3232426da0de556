import type { StateSpace } from '../linear'

export interface OperatingPoint {
  readonly states: Readonly<Record<string, number>>
  readonly pushes: Readonly<Record<string, number>>
  /** Values of what loops can hold. */
  readonly held: Readonly<Record<string, number>>
  /** Rates of what of these runs on there: steady motion. */
  readonly runs: Readonly<Record<string, number>>
  /** Drives that stand there and have no slope, by push. */
  readonly standing: Readonly<Record<string, readonly string[]>>
  /** Largest acceleration or rate left, of what does not run on. */
  readonly residual: number
}

export interface LinearMachine {
  /** Inputs: what loops push. Outputs: what they hold, and more. The attitude of a free body as a small rotation vector in body axes. */
  readonly system: StateSpace
  readonly operatingPoint: OperatingPoint
}

/** What helps where a drive stands and has no slope. */
export const whereItTurns = 'Let the machine work where it turns, such as at a speed, or leave it out of the allocation.'
