import type { Outcome } from '../document'
import type { Mode, OtherPoint } from '../control'
import type { BodyLoad } from '../machine'
import type { StateSpace } from '../linear'
import type { FreeRecord } from './free'
import type { Measured } from './measure'

export interface ModelCheck {
  readonly name: string
  readonly holds: boolean
  readonly value: number
  /** '' for a pure number. */
  readonly unit: string
  readonly note: string
}

export interface HeldInput {
  readonly name: string
  readonly label: string
  readonly unit: string
  readonly value: number
  /** A step of it that is worth looking at. */
  readonly step: number
}

export interface Running {
  readonly name: string
  readonly unit: string
  readonly rate: number
}

export interface RestingPoint {
  /** Positions of all joints, in the order of the assembly; without bodies all states. */
  readonly q: readonly number[]
  /** What runs on there, at its rate in its unit a second. */
  readonly runs: readonly Running[]
  /** How much accelerations differ from 0 once it has run on for a second: only what is steady lasts. */
  readonly leaves: number
  /** Drives that stand there and have no slope: no loop can push by them about it. */
  readonly standing: readonly string[]
  /** Unknowns that the equations leave open. */
  readonly open: number
  /** Inputs that share a load between them: the split is that of least effort. */
  readonly sharing: readonly string[]
  /** Where else it rests under the same conditions, as far as that was found. */
  readonly others: readonly OtherPoint[]
  readonly inputs: readonly HeldInput[]
  readonly residual: number
  /** What acts on every body there, by its name. */
  readonly loads: Readonly<Record<string, readonly BodyLoad[]>>
  /** The exact linear form about it. */
  readonly system: StateSpace
  readonly modes: readonly Mode[]
  /** Speeds of all coordinates by independent speed, with the modes' coordinates first. */
  readonly spread: readonly (readonly number[])[]
}

export interface ModelReport {
  /** Nothing without bodies. */
  readonly freedoms: number | undefined
  /** s: how long steps of its inputs are looked at. */
  readonly seconds: number
  readonly checks: readonly ModelCheck[]
  readonly point: Outcome<RestingPoint>
  readonly swing: FreeRecord
  /** What its sensors read of the free motion. */
  readonly measured: readonly Measured[]
}
