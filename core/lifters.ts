import { withRenamedInLoops } from './control'
import { findAt } from './document'
import type { Document, Part } from './document'
import { cos, sin } from './expression'
import { floatingBody, mechanismLayers } from './machine'

type Parts = Readonly<Record<string, Part>>
/** A number of a document: itself, or a formula over parameters. */
type Written = number | string
type Place = readonly [Written, Written, Written]

const inPlace = ['east', 'north', 'height', 'eastRate', 'northRate', 'climbRate']
const inAttitude = ['roll', 'pitch', 'heading', 'rollRate', 'pitchRate', 'yawRate', 'tiltEast', 'tiltNorth']

/** Where what was a quantity of a lifter is among the readings of its hull. */
export const readingOfLifter: Readonly<Record<string, string>> = Object.fromEntries([
  ...inPlace.map((name) => [name, `readings.place.${name}`]),
  ...inAttitude.map((name) => [name, `readings.attitude.${name}`]),
])

/** Its pushes, along and about its axes, in their order. */
const axes: Readonly<Record<string, readonly [sort: string, axis: readonly [number, number, number]]>> = {
  lift: ['force', [0, 0, 1]],
  rollMoment: ['torque', [1, 0, 0]],
  pitchMoment: ['torque', [0, 1, 0]],
  yawMoment: ['torque', [0, 0, 1]],
}

/** What its rotors share, and so is a parameter of the document: a trial changes all of them at once. */
const shared: Readonly<Record<string, readonly [parameter: string, unit: string, meaning: string]>> = {
  armLength: ['armLength', 'm', 'from the middle to a rotor'],
  height: ['rotorHeight', 'm', 'of the rotor discs'],
  radius: ['rotorRadius', 'm', 'one rotor'],
  thrustCoefficient: ['thrustCoefficient', 'N·s²/rad²', 'thrust over speed squared, one rotor'],
  torqueCoefficient: ['torqueCoefficient', 'N·m·s²/rad²', 'torque over speed squared, one rotor'],
  lag: ['rotorLag', 's', 'one rotor'],
  leastSpeed: ['leastSpeed', 'rad/s', 'one rotor'],
  mostSpeed: ['mostSpeed', 'rad/s', 'one rotor'],
}

/** Layers of a lifter by those of bodies on joints; what a lifter never had stays off. */
const layerOf: Readonly<Record<string, string>> = {
  ...{ sensorErrors: 'sensorNoise', estimator: 'estimator', sampling: 'sampling' },
  ...{ driveDynamics: 'rotorLag', driveLimits: 'rotorLimits', air: 'drag' },
}

/**
 * A document whose lifters are bodies on joints: the first body free, the others fixed to it, a rotor a drive, four pushes on the
 * centre of mass spread over them, readings under the names that loops held. What trials changed of all rotors, and the share
 * that a lifter carries, are parameters. It flies as before, but for the noise of its sensors, whose streams are others, and for
 * changes of trials that move its centre of mass: readings stay at that of the document.
 */
export function withoutLifters(document: Document): Document {
  return Object.entries(document.machines)
    .filter(([, machine]) => machine.kind === floatingBody.name)
    .reduce((next, [name]) => withoutLifter(next, name), document)
}

function withoutLifter(document: Document, name: string): Document {
  const lifter = document.machines[name]!
  const parameters = parametersFor(document, name, lifter)
  const signal = (one: string) => renamedSignal(lifter, one)
  const renamed = (one: string) => (one in axes ? `pushes.${one}` : signal(one))
  const own = (parts: Parts, change: (part: Part) => Part): Parts =>
    Object.fromEntries(Object.entries(parts).map(([key, part]) => [key, part.machine === name ? change(part) : part]))
  const named = (one: Document) => withRenamedInLoops(one, name, renamed)
  const pinned = Object.entries(document.tray).map(([key, pin]) => {
    const loops = (pin as { readonly loops?: Parts }).loops
    return [
      key,
      loops === undefined ? pin : { ...pin, loops: named({ ...document, loops, trials: {} } as Document).loops },
    ] as const
  })
  const next = named(document)
  return {
    ...next,
    parameters: { ...document.parameters, ...parameters.parts },
    machines: { ...document.machines, [name]: asMechanism(lifter, parameters.names) },
    trials: own(next.trials, (trial) => changedTrial(trial, name, lifter, parameters.names, signal)),
    tray: Object.fromEntries(pinned),
  } as Document
}

interface Parameters {
  /** By the number that it stands for: `rotors.lag`, `load`. */
  readonly names: ReadonlyMap<string, string>
  readonly parts: Parts
}

/** Parameters for what the rotors share, and for what it carries; under names that nothing has yet. */
function parametersFor(document: Document, machine: string, lifter: Part): Parameters {
  const taken = new Set(Object.keys(document.parameters ?? {}))
  const wanted = Object.entries(shared).map(([slot, [parameter, unit, meaning]]) => ({
    ...{ path: `rotors.${slot}`, parameter, unit, meaning },
    value: (lifter.rotors as unknown as Readonly<Record<string, Written>>)[slot]!,
  }))
  const load = { path: 'load', parameter: 'load', unit: '', meaning: 'carried at the centre of mass, as a share of the rest' }
  const all = [...wanted, { ...load, value: (lifter.load ?? 0) as Written }]
  const names = new Map<string, string>()
  const parts = all.map(({ path, parameter, unit, meaning, value }) => {
    const free =
      [parameter, `${machine}${parameter[0]!.toUpperCase()}${parameter.slice(1)}`].find((one) => !taken.has(one)) ??
      `${machine}${names.size}`
    taken.add(free)
    names.set(path, free)
    return [free, { kind: 'parameter', value, unit, meaning }] as const
  })
  return { names, parts: Object.fromEntries(parts) as unknown as Parts }
}

function asMechanism(lifter: Part, names: ReadonlyMap<string, string>): Part {
  const bodies = Object.entries(lifter.bodies as Parts)
  const [hull] = bodies[0]!
  const rotors = lifter.rotors as unknown as { readonly count: number; readonly allocation?: string } & Readonly<
    Record<string, Written>
  >
  const own = (slot: string) => `= ${names.get(`rotors.${slot}`)!}`
  const arm = names.get('rotors.armLength')!
  const at = centreOf(bodies.map(([, body]) => body))
  const places = Array.from({ length: rotors.count }, (_, i) => {
    const angle = ((i + 0.5) * 2 * Math.PI) / rotors.count
    return { angle, at: [`= ${cos(angle) as number} * ${arm}`, `= ${sin(angle) as number} * ${arm}`, own('height')] as const }
  })
  const drives = places.map((place, i) => [
    `rotor${i + 1}`,
    {
      ...{ kind: 'rotor', body: hull, at: place.at, axis: [0, 0, 1], turns: i % 2 === 0 ? 'left' : 'right' },
      ...{ radius: own('radius'), thrust: own('thrustCoefficient'), torque: own('torqueCoefficient'), lag: own('lag') },
      ...{ least: own('leastSpeed'), most: own('mostSpeed') },
    },
  ])
  const pushes = Object.entries(axes).map(([push, [sort, axis]]) => [
    push,
    { kind: 'bodyPush', body: hull, sort, at, axis, lever: own('armLength') },
  ])
  const lists = {
    pushes: Object.keys(axes)
      .map((push) => `pushes.${push}`)
      .join(' '),
    drives: drives.map(([drive]) => `drives.${drive as string}`).join(' '),
  }
  const tilt = rotors.tiltCounts ?? 30
  const counts = [[rotors.liftCounts ?? 1, tilt, tilt, rotors.turnCounts ?? 0.3]]
  const total = summed(bodies.map(([, { mass }]) => mass as Written))
  const load = {
    ...{ kind: 'linkedBody', mass: `= ${names.get('load')!} * ${said(total)}`, centre: [0, 0, 0], inertia: [0, 0, 0, 0, 0, 0] },
    joint: jointOn(hull, 'fixed', at),
  }
  const ground = (lifter.ground ?? 0) as Written
  return {
    kind: 'mechanism',
    ...(lifter.label === undefined ? {} : { label: lifter.label }),
    gravity: lifter.gravity ?? 9.80665,
    bodies: {
      ...Object.fromEntries(bodies.map(([name, body], i) => [name, linked(body, i === 0 ? undefined : hull, places, names)])),
      ...('load' in Object.fromEntries(bodies) ? { carriedLoad: load } : { load }),
    },
    forces: { drag: { kind: 'airDrag', body: hull, at, linear: lifter.drag ?? 0, quadratic: 0 } },
    drives: Object.fromEntries(drives) as object,
    pushes: Object.fromEntries(pushes) as object,
    allocations: {
      rotors: rotors.allocation === 'leastSquares' ? { kind: 'withinLimits', ...lists, counts } : { kind: 'fixedMix', ...lists },
    },
    readings: {
      place: { kind: 'placeReading', body: hull, at, from: 'ground', fromAt: at },
      attitude: { kind: 'attitudeReading', body: hull, from: 'ground' },
    },
    sensors: Object.fromEntries(
      Object.entries((lifter.sensors ?? {}) as Parts).map(([name, sensor]) => [name, carried(sensor, hull, at)]),
    ),
    surroundings: { ground: { kind: 'groundProfile', profile: [[-farAway, ground], [farAway, ground]] } }, // prettier-ignore
  } as unknown as Part
}

/** m: level ground reaches so far each way. */
const farAway = 1000

function jointOn(on: string, kind: string, at: Place = [0, 0, 0]) {
  return { kind, on, at, turned: [0, 0, 0] }
}

/** Where rotors stand round the middle, rad, and their places. */
type Rotors = readonly { readonly angle: number; readonly at: Place }[]

function linked(
  { mass, at, inertia, shape, size, label }: Part,
  on: string | undefined,
  rotors: Rotors,
  names: ReadonlyMap<string, string>,
): Part {
  const radius = `= ${names.get('rotors.radius')!}`
  const discs = rotors.map((rotor, i) => [
    `disc${i + 1}`,
    { kind: 'cylinder', at: rotor.at, turned: [0, 0, 0], radius, length: 0.008 },
  ])
  const shapes = {
    ...drawn(shape as string, at as unknown as Place, size as unknown as Place, rotors),
    // what turns is drawn on the body that flies
    ...(on === undefined ? (Object.fromEntries(discs) as object) : {}),
  }
  return {
    kind: 'linkedBody',
    ...(label === undefined ? {} : { label }),
    ...{ mass, centre: at, inertia, joint: on === undefined ? jointOn('ground', 'free') : jointOn(on, 'fixed') },
    ...(Object.keys(shapes).length === 0 ? {} : { shapes }),
  } as unknown as Part
}

/** What it was drawn as, of boxes and cylinders. */
function drawn(shape: string, at: Place, [x, y, z]: Place, rotors: Rotors): Record<string, object> {
  const box = (place: Place, size: Place, turned: readonly number[] = [0, 0, 0]) => ({ kind: 'box', at: place, turned, size })
  switch (shape) {
    case 'hull':
      return { hull: { kind: 'cylinder', at, turned: [0, 0, 0], radius: product(x, 0.5), length: z } }
    case 'box':
      return { box: box(at, [x, y, z]) }
    case 'arms':
      return Object.fromEntries(
        rotors.map(({ angle }, i) => {
          const middle = [product(x, 0.5 * (cos(angle) as number)), product(x, 0.5 * (sin(angle) as number)), at[2]] as const
          return [`arm${i + 1}`, box(middle, [x, y, z], [0, 0, angle])]
        }),
      )
    case 'skids':
      return Object.fromEntries(
        [1, -1].map((side) => [
          side > 0 ? 'leftSkid' : 'rightSkid',
          box([at[0], product(y, side / 2), summed([at[2], product(z, -0.5)])], [x, 0.016, 0.016]),
        ]),
      )
    default:
      return {}
  }
}

/** A sensor on a body; the noise of a sample as a density. */
function carried(sensor: Part, body: string, centre: Place): Part {
  const own = sensor as unknown as Readonly<Record<string, Written>>
  const density = (slot: string) => scaledNoise((own[slot] ?? 0) as Written, own.rate!)
  const kinds: Readonly<Record<string, object>> = {
    rangeFinder: {
      ...{ kind: 'distanceSensor', at: own.at, axis: [0, 0, -1], nearest: own.least, farthest: own.most, cone: 1.5 },
      noise: density('noise'),
    },
    inertialSensor: {
      ...{ kind: 'inertialUnit', at: centre, gyroNoise: density('gyroNoise'), gyroBias: own.gyroDrift ?? 0 },
      ...{ forceNoise: density('accelerometerNoise'), attitudeNoise: density('attitudeNoise') },
    },
    positionFixes: { kind: 'positionFix', at: centre, noise: density('noise') },
  }
  return {
    ...kinds[sensor.kind],
    ...(sensor.label === undefined ? {} : { label: sensor.label }),
    body,
    rate: own.rate,
  } as unknown as Part
}

/** White noise of a sample of n has the density n √(2/rate). */
function scaledNoise(noise: Written, rate: Written): Written {
  if (typeof noise === 'number' && typeof rate === 'number') return noise * Math.sqrt(2 / rate)
  return `= ${said(noise)} * sqrt(2 / ${said(rate)})`
}

function centreOf(bodies: readonly Part[]): Place {
  const masses = bodies.map(({ mass }) => mass as Written)
  const mass = summed(masses)
  return [0, 1, 2].map((k) => {
    const moment = summed(bodies.map(({ at }, i) => product(masses[i]!, (at as unknown as Place)[k]!)))
    return typeof moment === 'number' && typeof mass === 'number' ? moment / mass : `= ${said(moment)} / ${said(mass)}`
  }) as unknown as Place
}

/** A number as a formula has it among others. */
function said(value: Written): string {
  return typeof value === 'number' ? `(${value})` : `(${value.trim().slice(1).trim()})`
}

function summed(values: readonly Written[]): Written {
  return values.every((value) => typeof value === 'number')
    ? values.reduce((sum, value) => sum + value, 0)
    : `= ${values.map(said).join(' + ')}`
}

function product(a: Written, b: Written): Written {
  return typeof a === 'number' && typeof b === 'number' ? a * b : `= ${said(a)} * ${said(b)}`
}

/** A quantity, state or signal of a lifter under the name that it has now; `.estimate` and the like stay behind it. */
function renamedSignal(lifter: Part, signal: string): string {
  const [head, ...rest] = signal.split('.') as [string, ...string[]]
  const hull = Object.keys(lifter.bodies as Parts)[0]!
  const now =
    readingOfLifter[head] ?? (/^rotor\d+$/.test(head) ? `drives.${head}` : head === 'attitude' ? `${hull}.attitude` : head)
  return [now, ...rest].join('.')
}

/** A trial with the layers, changes and watched signals of its machine as they are called now. */
function changedTrial(
  trial: Part,
  name: string,
  lifter: Part,
  names: ReadonlyMap<string, string>,
  renamed: (signal: string) => string,
): Part {
  const layers = trial.realism as Part
  const realism = {
    kind: 'machineRealism',
    ...Object.fromEntries(
      ['estimator', 'sampling', ...mechanismLayers.map((layer) => layer.name)].map((layer) => [
        layer,
        layers[layerOf[layer] ?? ''] === true,
      ]),
    ),
  }
  const overrides = Object.entries((trial.overrides ?? {}) as Parts).flatMap(([key, change]) => {
    const parameter = numberOf(lifter, change.parameter as string, names)
    if (parameter === undefined) return []
    return [[key, { ...change, ...(change.how === 'set' ? { amount: setTo(lifter, change) } : {}), parameter }] as const]
  })
  const own = `${name}.`
  const watch = Object.entries((trial.watch ?? {}) as Parts).map(([key, part]) => {
    const signal = part.signal as string
    return [key, signal.startsWith(own) ? { ...part, signal: own + renamed(signal.slice(own.length)) } : part] as const
  })
  return {
    ...trial,
    realism,
    overrides: Object.fromEntries(overrides),
    ...(trial.watch === undefined ? {} : { watch: Object.fromEntries(watch) }),
  } as unknown as Part
}

/** What sensors called their numbers. */
const sensorSlots: Readonly<Record<string, string>> = {
  accelerometerNoise: 'forceNoise',
  gyroDrift: 'gyroBias',
  least: 'nearest',
  most: 'farthest',
}

/** Where a number of a lifter is now; nothing where it is no number any more, such as how much a missed push counts. */
function numberOf(lifter: Part, path: string, names: ReadonlyMap<string, string>): string | undefined {
  const parameter = names.get(path)
  if (parameter !== undefined) return `parameters.${parameter}`
  const [group, part, slot, ...rest] = path.split('.')
  if (path === 'drag') return 'forces.drag.linear'
  if (path === 'gravity') return path
  if (group === 'bodies' && slot !== 'size') return ['bodies', part, slot === 'at' ? 'centre' : slot, ...rest].join('.')
  const isOn = group === 'sensors' && findAt(lifter, `sensors.${part!}`) !== undefined
  return isOn ? ['sensors', part, sensorSlots[slot!] ?? slot, ...rest].join('.') : undefined
}

/** A number that a trial set, in what is counted now: noise as a density. */
function setTo(lifter: Part, { parameter, amount }: Part): unknown {
  const [group, sensor, slot] = (parameter as string).split('.')
  const rate = group === 'sensors' ? (findAt(lifter, `sensors.${sensor!}.rate`) as Written) : undefined
  return rate !== undefined && /[nN]oise$/.test(slot!) ? scaledNoise(amount as Written, rate) : amount
}
