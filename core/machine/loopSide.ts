import { partsIn, rememberedOf } from '../document'
import type { Part } from '../document'
import { findKind, labelOf } from '../kinds'
import { askedNames } from './signalNames'
import { isBodiless, matrices } from './bodiless'
import { fullMechanism, mechanismLayers } from './machineLayers'
import { unitAlong } from './effects/effect'
import type { MechanismLayerName } from './effects/effect'
import { joints } from './joints'
import { lookOf } from './mechanismSensors/look'
import { sensorsOf } from './mechanismSensors/sensor'
import type { Sensor, SensorKind } from './mechanismSensors/sensor'
import { softwareLayers } from './softwareLayers'
import type { Layer, SoftwareLayerName } from './softwareLayers'
import { effectParts, sensorReadings } from './mechanismMotion'
import type { AngleSort, HeldQuantity } from './held'
import { pushes } from './pushes'
import { readSignals } from './readings'
import { shortName } from './shortNames'
import { motionQuantities } from './steady'
import { bodiesOf } from './linkedBody'

/** What a loop can push. */
export interface Push {
  readonly name: string
  readonly label: string
  readonly unit: string
}

/** By machine, which nobody changes in place: checks and pages ask for the same again and again. */
const quantitiesKnown = new WeakMap<Part, Map<string, ReadonlyMap<string, HeldQuantity>>>()
const pushesKnown = new WeakMap<Part, Map<string, readonly Push[]>>()
const signalsKnown = new WeakMap<Part, Map<string, readonly SensorSignal[]>>()

/** Everything of a machine that a loop can hold, in the order people see. */
export function heldQuantities(machine: Part): readonly HeldQuantity[] {
  return [...quantitiesByName(machine).values()]
}

function quantitiesByName(machine: Part): ReadonlyMap<string, HeldQuantity> {
  return rememberedOf(quantitiesKnown, machine, '', () => {
    const all = isBodiless(machine)
      ? bodilessQuantities(machine)
      : [
          ...coordinateQuantities(machine),
          ...readSignals(machine).map(({ reading: _reading, ...held }) => held),
          ...readingQuantities(machine),
        ]
    return new Map(all.map((one) => [one.name, one]))
  })
}

/** Everything of a machine that a loop can push. */
export function pushesOf(machine: Part): readonly Push[] {
  return rememberedOf(pushesKnown, machine, '', () => {
    const units = isBodiless(machine) ? unitsIn(machine, ['inputs']) : pushUnits(machine)
    return askedNames(machine).map((name) => ({ name, label: shortName(name, machine), unit: units.get(name) ?? '' }))
  })
}

/** The unit of what an operating point fixes; '' where that is not known. */
export function unitFixed(machine: Part, signal: string): string {
  const known = [...heldQuantities(machine), ...pushesOf(machine), ...(isBodiless(machine) ? [] : motionQuantities(machine))]
  return known.find(({ name }) => name === signal)?.unit ?? ''
}

export function findHeld(machine: Part, name: string): HeldQuantity | undefined {
  return quantitiesByName(machine).get(name)
}

export function findPush(machine: Part, name: string): Push | undefined {
  return pushesOf(machine).find((one) => one.name === name)
}

/** One reading of a sensor, and the quantities that loops can read from it. */
export interface SensorSignal {
  /** Of the sensor, and its path. */
  readonly name: string
  readonly path: string
  readonly part: Sensor
  readonly kind: Pick<SensorKind, 'errors'>
  readonly index: number
  /** Its name among those of its sensor, and the name of what it truly reads. */
  readonly reading: string
  readonly own: string
  readonly quantities: readonly string[]
}

/** All readings of the sensors of a machine. Of two that measure one quantity the first is read. */
export function sensorSignals(machine: Part): readonly SensorSignal[] {
  return rememberedOf(signalsKnown, machine, '', () => signalsOf(machine))
}

function signalsOf(machine: Part): readonly SensorSignal[] {
  if (isBodiless(machine)) return signalSensors(machine)
  const held = new Set(heldQuantities(machine).map(({ name }) => name))
  const seen = new Set<string>()
  const look = lookOf(machine, (one) => findHeld(machine, one)?.rate)
  return sensorReadings(machine, () => '').map(({ name, sensor, path, part, kind, index }) => {
    const shown = [kind.measures?.(part, look)[index], kind.ofJoint === true ? undefined : name]
    const quantities = shown.filter((one) => one !== undefined && held.has(one) && !seen.has(one)) as string[]
    for (const one of quantities) seen.add(one)
    return { name: sensor, path, part, kind, index, reading: name.slice(path.length + 1), own: name, quantities }
  })
}

/** A sensor and a quantity that loops can read from it. */
export interface MeasuringSensor extends SensorSignal {
  readonly quantity: string
}

const measuring = new WeakMap<Part, Map<string, readonly MeasuringSensor[]>>()

/** The sensors of a machine that measure what loops can hold. */
export function measuringSensors(machine: Part): readonly MeasuringSensor[] {
  return rememberedOf(measuring, machine, '', () =>
    sensorSignals(machine).flatMap((one) => one.quantities.map((quantity) => ({ ...one, quantity }))),
  )
}

/** Of two on one signal the first is read. */
function signalSensors(machine: Part): SensorSignal[] {
  const seen = new Set<string>()
  return Object.entries(sensorsOf(machine)).map(([name, part]) => {
    const own = part.signal as string
    const quantities = seen.has(own) ? [] : [own]
    seen.add(own)
    return { name, path: `sensors.${name}`, part, kind: {}, index: 0, reading: '', own, quantities }
  })
}

/** Any layer of any machine. */
export type AnyLayer = SoftwareLayerName | MechanismLayerName

/** Layers that the design of a loop counts in, and those without the lag of what pushes. */
export const designLayers: { readonly all: ReadonlySet<AnyLayer>; readonly withoutLag: ReadonlySet<AnyLayer> } = {
  all: fullMechanism,
  withoutLag: new Set([...fullMechanism].filter((layer) => layer !== 'driveDynamics')),
}

/** Layers that trials can switch. */
export const trialLayers: readonly Layer<AnyLayer>[] = [...softwareLayers, ...mechanismLayers]

function coordinateQuantities(machine: Part): HeldQuantity[] {
  const bodies = Object.entries(bodiesOf(machine))
  return bodies.flatMap(([body, { joint }]) => {
    const kind = findKind(joints, joint)
    if (kind?.goInPairs !== true) return []
    return [
      ...kind.positions.map((one, i) => ({
        name: `${body}.${one.name}`,
        label: shortName(`${body}.${one.name}`, machine),
        unit: one.unit,
        rate: `${body}.${kind.speeds[i]!.name}`,
        ...(one.angle === undefined ? {} : { angle: one.angle }),
      })),
      ...kind.speeds.map((one) => ({
        name: `${body}.${one.name}`,
        label: shortName(`${body}.${one.name}`, machine),
        unit: one.unit,
      })),
    ]
  })
}

/** What sensors read of bodies, and formulas of sensors: nobody else says it. */
function readingQuantities(machine: Part): HeldQuantity[] {
  const units = new Map(coordinateQuantities(machine).map(({ name, unit }) => [name, unit]))
  return sensorReadings(machine, (coordinate) => units.get(coordinate) ?? '')
    .filter(({ kind }) => kind.ofJoint !== true)
    .map(({ name, label, unit, part, sensor }) => ({ name, label: `${label} of ${labelOf(part, sensor)}`, unit }))
}

function bodilessQuantities(machine: Part): HeldQuantity[] {
  const units = unitsIn(machine, ['states', 'outputs'])
  return [...units].map(([name, unit]) => {
    const rate = rateOf(machine, name, [...units.keys()])
    const angle = partsIn(machine.states)[name]?.angle as AngleSort | 'none' | undefined
    const sort = angle === undefined || angle === 'none' ? {} : { angle }
    return { name, label: shortName(name, machine), unit, ...(rate === undefined ? {} : { rate }), ...sort }
  })
}

/** Units of the signals of some groups. */
function unitsIn(machine: Part, groups: readonly ('inputs' | 'states' | 'outputs')[]): ReadonlyMap<string, string> {
  const listed = (group: string) => Object.entries(partsIn(machine[group]))
  return new Map(groups.flatMap(listed).map(([name, { unit }]) => [name, unit as string]))
}

/** A state whose rate is just another signal: heading' = yawRate; a row of a matrix with a single 1. */
function rateOf(machine: Part, name: string, known: readonly string[]): string | undefined {
  const states = Object.keys(partsIn(machine.states))
  const at = states.indexOf(name)
  if (at < 0) return undefined
  if (machine.kind !== matrices.name) {
    const written = (partsIn(machine.states)[name]!.rate as string).trim()
    return known.includes(written) ? written : undefined
  }
  const row = (slot: 'a' | 'b') => ((machine[slot] ?? []) as readonly (readonly number[])[])[at] ?? []
  const ones = row('a').flatMap((value, j) => (value === 1 ? [j] : []))
  const isPlain = machine.sampleTime === undefined && [...row('a'), ...row('b')].filter((value) => value !== 0).length === 1
  return isPlain && ones.length === 1 ? states[ones[0]!] : undefined
}

/** Everything that can be asked of the drives of a mechanism, with its unit; nothing of machines without bodies. */
export function effectInputs(machine: Part): readonly { readonly name: string; readonly unit: string }[] {
  if (isBodiless(machine)) return []
  const coordinates = new Map(coordinateQuantities(machine).map(({ name, unit }) => [name, unit]))
  return effectParts(machine).flatMap(({ path, part, kind }) =>
    kind?.input === undefined
      ? []
      : [{ name: path, unit: unitAlong(kind.input.unit, coordinates.get(part.joint as string) ?? '') }],
  )
}

function pushUnits(machine: Part): ReadonlyMap<string, string> {
  const coordinates = new Map(coordinateQuantities(machine).map(({ name, unit }) => [name, unit]))
  const along = (part: Part) => coordinates.get(part.joint as string) ?? ''
  const drives = effectParts(machine).flatMap(({ path, part, kind }) => (kind?.input === undefined ? [] : [{ path, part, kind }]))
  const efforts = new Map(drives.map(({ path, part, kind }) => [path, unitAlong((kind.effort ?? kind.input!).unit, along(part))]))
  const own = Object.entries(partsIn(machine.pushes)).map(([name, part]) => {
    const kind = findKind(pushes, part)
    return [`pushes.${name}`, kind?.unit(part, (drive) => efforts.get(drive) ?? '') ?? ''] as const
  })
  return new Map([...effectInputs(machine).map(({ name, unit }) => [name, unit] as const), ...own])
}
