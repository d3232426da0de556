import type { Scalar } from '../../expression'
import { partsIn } from '../../document'
import type { Part } from '../../document'
import { number } from '../../kinds'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { Sight } from '../sight'
import type { Look } from './look'

export interface SensorReading {
  /** Empty where there is one only. */
  readonly name: string
  readonly label: string
  /** Empty, or `/s`, where it is that of the joint. */
  readonly unit: string
}

/** The same reading along each axis. */
export function alongAxes(label: string, unit: string): readonly SensorReading[] {
  return ['x', 'y', 'z'].map((axis) => ({ name: axis, label: `${label} ${axis}`, unit }))
}

/** What all sensors say of when they sample. */
type Sampled = Pick<typeof errorSlots, 'rate' | 'delay' | 'dropout'>

/** A sort of sensor: what it would read if it were perfect. How it errs is the same for all: `errorSlots`. */
export interface SensorKind<S extends Slots = Slots> extends Kind<S & Sampled> {
  readonly label: string
  readonly readings: OfOwn<[part: PartOf<Kind<S & Sampled>>], readonly SensorReading[]>
  /** Their values, in the same order. */
  readonly reads: OfOwn<[sight: Sight, part: PartOf<Kind<S & Sampled>>], readonly Scalar[]>
  /**
   * What loops hold that it measures, reading by reading: a coordinate or its rate, or a value of a reading of the machine.
   * What it reads may be held by itself too, unless it is that of a joint.
   */
  readonly measures?: OfOwn<[part: PartOf<Kind<S & Sampled>>, look: Look], readonly (string | undefined)[]>
  readonly ofJoint?: true
  /** The slots that say how a reading errs, where they are not those of all. */
  readonly errors?: (index: number) => Readonly<Partial<Record<ErrorSlot, string>>>
}

export function defineSensor<const S extends Slots>(kind: SensorKind<S>): SensorKind<S> {
  return kind
}

/** How a reading errs. */
export type ErrorSlot = Exclude<keyof typeof errorSlots, 'rate' | 'delay' | 'dropout'>

/** A sensor, of whatever sort. */
export type Sensor = PartOf<SensorKind>

/** The sensors of a machine, by name. */
export function sensorsOf(machine: Part): Readonly<Record<string, Sensor>> {
  return partsIn(machine.sensors) as Readonly<Record<string, Sensor>>
}

/** A number of a sensor that says how one of its readings errs; 0 where nothing does. */
export function errorOf(part: Part, kind: Pick<SensorKind, 'errors'>, index: number, slot: ErrorSlot): number | undefined {
  return part[errorPath(kind, index, slot)] as number | undefined
}

/** The name of its slot. */
export function errorPath(kind: Pick<SensorKind, 'errors'>, index: number, slot: ErrorSlot): string {
  return kind.errors === undefined ? slot : (kind.errors(index)[slot] ?? slot)
}

/** Whole samples by which a sensor tells late. */
export function samplesLate({ delay, rate }: Sensor): number {
  return Math.ceil((delay ?? 0) * rate - 1e-9)
}

/** What every sensor has: when it samples, and how it errs. In the unit of what it reads. */
export const errorSlots = {
  rate: number({ label: 'sample rate', unit: 'Hz', above: 0, most: 20_000 }),
  delay: number({ label: 'delay', unit: 's', least: 0, otherwise: 0 }),
  noise: number({ label: 'noise density', unit: '1/√Hz', least: 0, otherwise: 0, note: 'in the unit of the reading; one-sided' }),
  bias: number({ label: 'bias', unit: '', otherwise: 0, note: 'in the unit of the reading' }),
  drift: number({
    label: 'drift of the bias',
    unit: '1/√s',
    least: 0,
    otherwise: 0,
    note: 'a random walk; in the unit of the reading',
  }),
  resolution: number({ label: 'resolution', unit: '', least: 0, otherwise: 0, note: 'smallest step; 0 for none' }),
  least: number({ label: 'smallest reading', unit: '', optional: true }),
  most: number({ label: 'largest reading', unit: '', optional: true }),
  dropout: number({ label: 'share of lost samples', unit: '', least: 0, most: 1, otherwise: 0 }),
} as const
