interface SlotBase {
  /** What the number is called on screen, in the trade's words. */
  readonly label: string
  readonly note?: string
}

export interface NumberSlot extends SlotBase {
  readonly type: 'number'
  /** SI unit; '' for a pure number. */
  readonly unit: string
  /** The slot beside it that names the signal whose unit it has. */
  readonly unitOf?: string
  /** Bounds that may be reached. */
  readonly least?: number
  readonly most?: number
  /** Bound that may not be reached. */
  readonly above?: number
  readonly whole?: boolean
  /** Makes the slot one that may be left out. */
  readonly otherwise?: number
  /** The same without a value to stand in. */
  readonly optional?: true
}

export interface VectorSlot extends SlotBase {
  readonly type: 'vector'
  readonly unit: string
  readonly components: readonly string[]
  /** What a new part starts with; zeros unless said. */
  readonly fill?: readonly number[]
}

export interface ChoiceSlot extends SlotBase {
  readonly type: 'choice'
  /** Value in the document, words on screen. */
  readonly options: Readonly<Record<string, string>>
  /** Makes the slot one that may be left out. */
  readonly otherwise?: string
}

export interface ToggleSlot extends SlotBase {
  readonly type: 'toggle'
}

/** Rows of numbers: points of a curve where the columns are fixed, else a matrix. */
export interface TableSlot extends SlotBase {
  readonly type: 'table'
  /** Label and unit of each column; a matrix of any width without them. */
  readonly columns?: readonly { readonly label: string; readonly unit: string }[]
  readonly fill?: readonly (readonly number[])[]
  /** May be left out; then it is empty. */
  readonly optional?: true
}

/** A formula over the names that its owner knows, and the document's parameters. */
export interface FormulaSlot extends SlotBase {
  readonly type: 'formula'
  readonly unit: string
}

/** A name of something else in the document, or free text. */
export interface NameSlot extends SlotBase {
  readonly type: 'name'
  readonly of:
    | 'machine'
    | 'scene'
    | 'body'
    | 'coordinate'
    | 'fixable'
    | 'runnable'
    | 'point'
    | 'input'
    | 'output'
    | 'supply'
    | 'held'
    | 'push'
    | 'loop'
    | 'cued'
    | 'signal'
    | 'altered'
    | 'failing'
    | 'axis'
    | 'parameter'
    | 'number'
    | 'sibling'
    | 'hand'
    | 'gain'
    | 'startable'
    | 'motion'
    | 'text'
    // several names, with blanks between
    | 'coordinates'
    | 'drives'
    | 'pushes'
  readonly optional?: true
}

export interface PartSlot extends SlotBase {
  readonly type: 'part'
  readonly kinds: readonly AnyKind[]
  readonly optional?: true
}

/** Named parts, each of one of the kinds. */
export interface PartsSlot extends SlotBase {
  readonly type: 'parts'
  readonly kinds: readonly AnyKind[]
  readonly optional?: true
}

export type Slot = NumberSlot | VectorSlot | TableSlot | FormulaSlot | ChoiceSlot | ToggleSlot | NameSlot | PartSlot | PartsSlot
export type Slots = Readonly<Record<string, Slot>>

/** A kind whose slots are not known to the reader of a list. */
export interface AnyKind {
  readonly name: string
  /** The sentence, with slots in braces: 'Hold {holds} at {reference}.' */
  readonly says: string
  /** For the reference page: what it computes, with its source. */
  readonly about: string
  readonly slots: Slots
}

/** The names in a slot of several. */
export function namesIn(value: unknown): string[] {
  return String(value ?? '')
    .split(/[\s,;]+/)
    .filter((one) => one !== '')
}

/** What is given to one of the makers below: its own type, so that a part's fields are known by it, and no other fields. */
type Given<S, Known> = S & { readonly [Field in Exclude<keyof S, keyof Known>]: never }

export function number<const S extends Omit<NumberSlot, 'type'>>(slot: Given<S, NumberSlot>): S & { readonly type: 'number' } {
  return { type: 'number', ...slot }
}

export function vector<const S extends Omit<VectorSlot, 'type'>>(slot: Given<S, VectorSlot>): S & { readonly type: 'vector' } {
  return { type: 'vector', ...slot }
}

export function table<const S extends Omit<TableSlot, 'type'>>(slot: Given<S, TableSlot>): S & { readonly type: 'table' } {
  return { type: 'table', ...slot }
}

export function formula<const S extends Omit<FormulaSlot, 'type'>>(
  slot: Given<S, FormulaSlot>,
): S & { readonly type: 'formula' } {
  return { type: 'formula', ...slot }
}

export function choice<const S extends Omit<ChoiceSlot, 'type'>>(slot: Given<S, ChoiceSlot>): S & { readonly type: 'choice' } {
  return { type: 'choice', ...slot }
}

export function toggle<const S extends Omit<ToggleSlot, 'type'>>(slot: Given<S, ToggleSlot>): S & { readonly type: 'toggle' } {
  return { type: 'toggle', ...slot }
}

export function name<const S extends Omit<NameSlot, 'type'>>(slot: Given<S, NameSlot>): S & { readonly type: 'name' } {
  return { type: 'name', ...slot }
}

export function part<const S extends Omit<PartSlot, 'type'>>(slot: Given<S, PartSlot>): S & { readonly type: 'part' } {
  return { type: 'part', ...slot }
}

export function parts<const S extends Omit<PartsSlot, 'type'>>(slot: Given<S, PartsSlot>): S & { readonly type: 'parts' } {
  return { type: 'parts', ...slot }
}
