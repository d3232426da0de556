/** A project as plain JSON: the only thing that is edited, saved, sent and undone. Holds no computed value. */
export interface Document {
  readonly format: 'calm-hand'
  readonly version: number
  readonly title: string
  readonly about: string
  readonly note: string
  /** Right-handed world axes with z up. */
  readonly up: '+z'
  /** Numbers with names, used in formulas. */
  readonly parameters?: Readonly<Record<string, Part>>
  /** What is around machines in trials that share it. */
  readonly scenes?: Readonly<Record<string, Part>>
  readonly machines: Readonly<Record<string, Part>>
  readonly loops: Readonly<Record<string, LoopPart>>
  readonly estimators: Readonly<Record<string, EstimatorPart>>
  readonly trials: Readonly<Record<string, TrialPart>>
  /** Pinned runs and designs, by letter. */
  readonly tray: Readonly<Record<string, Pin>>
}

/** Anything that is described by a kind; the kind's slots say what else is in it. */
export interface Part {
  readonly kind: string
  readonly [slot: string]: unknown
}

/** What every loop says, whatever else its kind asks: the fields by which parts of a document find each other. */
export interface LoopPart extends Part {
  readonly machine: string
  readonly holds: string
  readonly pushes: string
  /** Hz */
  readonly rate: number
  readonly law: Part
  readonly tuning: Part
}

export interface EstimatorPart extends Part {
  readonly machine: string
}

export interface CuePart extends Part {
  /** Of a command: a loop, or a push of the machine. */
  readonly loop?: string
  /** s */
  readonly at: number
}

export interface TrialPart extends Part {
  readonly title: string
  readonly machine: string
  readonly seed: number
  readonly scene?: string
  readonly cues: Readonly<Record<string, CuePart>>
  readonly overrides: Readonly<Record<string, Part>>
  readonly realism: Part
}

/** The parts of a slot that holds them by name; none where it is left out. */
export function partsIn(slot: unknown): Readonly<Record<string, Part>> {
  return (slot ?? {}) as Readonly<Record<string, Part>>
}

/** What was pinned: the loops as they were, and the run made with them. */
export interface Pin {
  readonly title: string
  readonly note?: string
  readonly trial: string
  /** Content hash of the run. */
  readonly run: string
  readonly loops: Readonly<Record<string, LoopPart>>
}

/** The largest document read, in characters of JSON. */
export const mostDocumentCharacters = 5_000_000

/** Bytes of a mesh file that is read: a binary STL of as many triangles as are read has 100 MB. */
export const mostMeshBytes = 110_000_000

/** Bytes of one piece of a packed record, as records are sent and kept; the last piece is shorter. */
export const recordPieceBytes = 4 * 1024 * 1024
