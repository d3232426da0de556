// One step of the migrations: it stays as it is, whatever becomes of the kinds that it writes.

type Fields = Readonly<Record<string, unknown>>
type Parts = Readonly<Record<string, Fields>>
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

/** What the columns of a record are called now, where a lifter of its own kind was recorded: its pinned runs are still seen. */
export function columnsNow(names: readonly string[]): readonly string[] {
  const recorded = new Set(names)
  const isLifter = (machine: string) => recorded.has(`${machine}.eastRate`) && recorded.has(`${machine}.attitude.w`)
  return names.map((name) => {
    const [machine, head, ...rest] = name.split('.') as [string, string | undefined, ...string[]]
    if (head === undefined || !isLifter(machine)) return name
    const now = Object.hasOwn(readingOfLifter, head) ? readingOfLifter[head]! : /^rotor\d+$/.test(head) ? `drives.${head}` : head
    return [machine, now, ...rest].join('.')
  })
}

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

/** Layers of trials of bodies on joints, by those of a lifter; what a lifter never had stays off. */
const layerOf: Readonly<Record<string, string | undefined>> = {
  ...{ estimator: 'estimator', sampling: 'sampling', sensorErrors: 'sensorNoise', air: 'drag' },
  ...{ driveDynamics: 'rotorLag', driveLimits: 'rotorLimits', viscous: undefined, friction: undefined, stops: undefined },
  ...{ gears: undefined, battery: undefined, inflow: undefined, groundEffect: undefined, gusts: undefined, contact: undefined },
}

/**
 * A document whose lifters are bodies on joints: the first body free, the others fixed to it, a rotor a drive, four pushes on the
 * centre of mass spread over them, readings under the names that loops held. What trials changed of all rotors, and the share
 * that a lifter carries, are parameters. It flies as before, but for the noise of its sensors, whose streams are others, and for
 * changes of trials that move its centre of mass: readings stay at that of the document. What does not look like a lifter stays
 * as it is, for the schema to refuse.
 */
export function withoutLifters(document: Fields): Fields {
  return Object.entries(partsOf(document.machines))
    .filter(([, machine]) => machine.kind === 'floatingBody' && isLifter(machine))
    .reduce((next, [name, machine]) => withoutLifter(next, name, machine), document)
}

function withoutLifter(document: Fields, name: string, lifter: Fields): Fields {
  const parameters = parametersFor(document, name, lifter)
  const signal = (one: string) => renamedSignal(lifter, one)
  const seen = { measured: measuredOf(lifter), estimated: estimatedOf(document, name) }
  const named = (group: unknown) =>
    changed(group, (part) => (part.machine === name ? withNames(readable(part, seen), signal) : part))
  const trials = changed(document.trials, (trial) =>
    trial.machine === name ? changedTrial(trial, name, lifter, parameters.names, signal) : trial,
  )
  return {
    ...document,
    parameters: { ...partsOf(document.parameters), ...parameters.parts },
    machines: { ...partsOf(document.machines), [name]: asMechanism(lifter, parameters.names) },
    loops: named(document.loops),
    estimators: named(document.estimators),
    trials,
    tray: changed(document.tray, (pin) => ({ ...pin, loops: named(pin.loops) })),
  }
}

/** What names a quantity or a push of the machine in loops and estimators, and in whatever they are made of. */
const naming = new Set(['holds', 'pushes', 'signal'])

function withNames(part: Fields, signal: (name: string) => string): Fields {
  const next = Object.entries(part).map(([slot, value]) => {
    if (typeof value === 'string')
      return [slot, naming.has(slot) ? (Object.hasOwn(axes, value) ? `pushes.${value}` : signal(value)) : value]
    return [slot, isFields(value) ? withNames(value, signal) : value]
  })
  return Object.fromEntries(next) as Fields
}

/** What its sensors tell of bodies on joints: a range finder tells a range there, and no height. */
function measuredOf(lifter: Fields): ReadonlySet<string> {
  const kinds = new Set(Object.values(partsOf(lifter.sensors)).map(({ kind }) => kind))
  return new Set([
    ...(kinds.has('inertialSensor') ? inAttitude : []),
    ...(kinds.has('positionFixes') ? ['east', 'north', 'height'] : []),
  ])
}

/** What estimators of a lifter gave, by their kinds. */
const estimates: Readonly<Record<string, readonly string[]>> = {
  heightFilter: ['height', 'climbRate'],
  tiltFilter: ['roll', 'pitch', 'tiltEast', 'tiltNorth'],
  poseFilter: [...inPlace, ...inAttitude],
}

function estimatedOf(document: Fields, name: string): ReadonlySet<string> {
  const own = Object.values(partsOf(document.estimators)).filter(({ machine }) => machine === name)
  return new Set(own.flatMap(({ kind, signal }) => estimates[kind as string] ?? (typeof signal === 'string' ? [signal] : [])))
}

/** The rates that laws act on beside what their loop holds. */
const rates: Readonly<Record<string, string>> = {
  ...{ east: 'eastRate', north: 'northRate', height: 'climbRate', roll: 'rollRate', pitch: 'pitchRate', heading: 'yawRate' },
  ...{ tiltEast: 'rollRate', tiltNorth: 'pitchRate' },
}

const rateLaws = new Set<unknown>(['pdOnRate', 'pidOnRate', 'gainSchedule'])

/** What nothing measured or estimated was read as it truly is, without a word: now the loop says so. */
function readable(loop: Fields, seen: Readonly<Record<'measured' | 'estimated', ReadonlySet<string>>>): Fields {
  const { reads, holds } = loop
  if ((reads !== 'measured' && reads !== 'estimated') || typeof holds !== 'string') return loop
  const law = isFields(loop.law) ? loop.law : {}
  const rate = rateLaws.has(law.kind) ? [rates[holds] ?? holds] : []
  // of estimates what is held decides: the rest was and is read truly where it is not estimated
  const read = reads === 'estimated' ? [holds] : [holds, ...rate, ...signalsIn(law)]
  return read.every((one) => seen[reads].has(one)) ? loop : { ...loop, reads: 'true' }
}

function signalsIn(part: Fields): string[] {
  return Object.entries(part).flatMap(([slot, value]) =>
    typeof value === 'string' ? (slot === 'signal' ? [value] : []) : isFields(value) ? signalsIn(value) : [],
  )
}

interface Parameters {
  /** By the number that it stands for: `rotors.lag`, `load`. */
  readonly names: ReadonlyMap<string, string>
  readonly parts: Parts
}

/** Parameters for what the rotors share, and for what it carries; under names that nothing has yet. */
function parametersFor(document: Fields, machine: string, lifter: Fields): Parameters {
  const taken = new Set(Object.keys(partsOf(document.parameters)))
  const rotors = lifter.rotors as Fields
  const wanted = Object.entries(shared).map(([slot, [parameter, unit, meaning]]) => ({
    ...{ path: `rotors.${slot}`, parameter, unit, meaning, value: rotors[slot] },
  }))
  const load = { path: 'load', parameter: 'load', unit: '', meaning: 'carried at the centre of mass, as a share of the rest' }
  const names = new Map<string, string>()
  const parts = [...wanted, { ...load, value: lifter.load ?? 0 }].map(({ path, parameter, unit, meaning, value }) => {
    const long = `${machine}${parameter[0]!.toUpperCase()}${parameter.slice(1)}`
    let free = [parameter, long].find((one) => !taken.has(one)) ?? long
    while (taken.has(free)) free += '1'
    taken.add(free)
    names.set(path, free)
    return [free, { kind: 'parameter', value, unit, meaning }] as const
  })
  return { names, parts: Object.fromEntries(parts) }
}

function asMechanism(lifter: Fields, names: ReadonlyMap<string, string>): Fields {
  const bodies = Object.entries(partsOf(lifter.bodies))
  const [hull] = bodies[0]!
  const rotors = lifter.rotors as Fields & { readonly count: number }
  const own = (slot: string) => `= ${names.get(`rotors.${slot}`)!}`
  const at = centreOf(bodies.map(([, body]) => body))
  const places = rotorsOf(rotors.count, names)
  const drives = places.map((place, i): [string, Fields] => [
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
    drives: drives.map(([drive]) => `drives.${drive}`).join(' '),
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
    drives: Object.fromEntries(drives),
    pushes: Object.fromEntries(pushes) as Fields,
    allocations: {
      rotors: rotors.allocation === 'leastSquares' ? { kind: 'withinLimits', ...lists, counts } : { kind: 'fixedMix', ...lists },
    },
    readings: {
      place: { kind: 'placeReading', body: hull, at, from: 'ground', fromAt: at },
      attitude: { kind: 'attitudeReading', body: hull, from: 'ground' },
    },
    sensors: changed(lifter.sensors ?? {}, (sensor) => carried(sensor, hull, at)),
    surroundings: { ground: { kind: 'groundProfile', profile: [[-farAway, ground], [farAway, ground]] } }, // prettier-ignore
  }
}

/** m: level ground reaches so far each way. */
const farAway = 1000

function jointOn(on: string, kind: string, at: Place = [0, 0, 0]) {
  return { kind, on, at, turned: [0, 0, 0] }
}

interface Rotor {
  /** rad from the x axis, turning left */
  readonly angle: number
  /** Cosine and sine of it, as a formula says them. */
  readonly along: readonly [x: string, y: string]
  readonly at: Place
}

/** Rotors on a circle, the first at half a step from the x axis. */
function rotorsOf(count: number, names: ReadonlyMap<string, string>): Rotor[] {
  const [arm, height] = ['armLength', 'height'].map((slot) => names.get(`rotors.${slot}`)!)
  return Array.from({ length: count }, (_, i) => {
    const turned = i === 0 ? `(pi / ${count})` : `(${2 * i + 1} * pi / ${count})`
    const along = [`cos${turned}`, `sin${turned}`] as const
    const at: Place = [`= ${along[0]} * ${arm!}`, `= ${along[1]} * ${arm!}`, `= ${height!}`]
    return { angle: ((2 * i + 1) * Math.PI) / count, along, at }
  })
}

function linked(
  { mass, at, inertia, shape, size, label }: Fields,
  on: string | undefined,
  rotors: readonly Rotor[],
  names: ReadonlyMap<string, string>,
): Fields {
  const radius = `= ${names.get('rotors.radius')!}`
  const discs = rotors.map((rotor, i) => [
    `disc${i + 1}`,
    { kind: 'cylinder', at: rotor.at, turned: [0, 0, 0], radius, length: 0.008 },
  ])
  const shapes = {
    ...drawn(shape, at as Place, size as Place, rotors),
    // what turns is drawn on the body that flies
    ...(on === undefined ? (Object.fromEntries(discs) as Fields) : {}),
  }
  return {
    kind: 'linkedBody',
    ...(label === undefined ? {} : { label }),
    ...{ mass, centre: at, inertia, joint: on === undefined ? jointOn('ground', 'free') : jointOn(on, 'fixed') },
    ...(Object.keys(shapes).length === 0 ? {} : { shapes }),
  }
}

/** What it was drawn as, of boxes and cylinders. */
function drawn(shape: unknown, at: Place, [x, y, z]: Place, rotors: readonly Rotor[]): Fields {
  const box = (place: Place, size: Place, turned: readonly number[] = [0, 0, 0]) => ({ kind: 'box', at: place, turned, size })
  switch (shape) {
    case 'hull':
      return { hull: { kind: 'cylinder', at, turned: [0, 0, 0], radius: product(x, 0.5), length: z } }
    case 'box':
      return { box: box(at, [x, y, z]) }
    case 'arms':
      return Object.fromEntries(
        rotors.map(({ angle, along }, i) => {
          const middle: Place = [`= ${along[0]} * ${said(x)} / 2`, `= ${along[1]} * ${said(x)} / 2`, at[2]]
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
function carried(sensor: Fields, body: string, centre: Place): Fields {
  const density = (slot: string) => scaledNoise(sensor[slot] ?? 0, sensor.rate)
  const kinds: Readonly<Record<string, object>> = {
    rangeFinder: {
      ...{ kind: 'distanceSensor', at: sensor.at, axis: [0, 0, -1], nearest: sensor.least, farthest: sensor.most, cone: 1.5 },
      noise: density('noise'),
    },
    inertialSensor: {
      ...{ kind: 'inertialUnit', at: centre, gyroNoise: density('gyroNoise'), gyroBias: sensor.gyroDrift ?? 0 },
      ...{ forceNoise: density('accelerometerNoise'), attitudeNoise: density('attitudeNoise') },
    },
    positionFixes: { kind: 'positionFix', at: centre, noise: density('noise') },
  }
  return {
    ...(kinds[sensor.kind as string] ?? sensor),
    ...(sensor.label === undefined ? {} : { label: sensor.label }),
    body,
    rate: sensor.rate,
  }
}

/** White noise of a sample of n has the density n √(2/rate). */
function scaledNoise(noise: unknown, rate: unknown): unknown {
  if (!isWritten(noise) || !isWritten(rate)) return noise
  if (typeof noise === 'number' && typeof rate === 'number') return noise * Math.sqrt(2 / rate)
  return `= ${said(noise)} * sqrt(2 / ${said(rate)})`
}

function centreOf(bodies: readonly Fields[]): Place {
  const masses = bodies.map(({ mass }) => mass as Written)
  const mass = summed(masses)
  const along = (k: number): Written => {
    const moment = summed(bodies.map(({ at }, i) => product(masses[i]!, (at as Place)[k]!)))
    return typeof moment === 'number' && typeof mass === 'number' ? moment / mass : `= ${said(moment)} / ${said(mass)}`
  }
  return [along(0), along(1), along(2)]
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
function renamedSignal(lifter: Fields, signal: string): string {
  const [head, ...rest] = signal.split('.') as [string, ...string[]]
  const [hull] = Object.keys(partsOf(lifter.bodies))
  const reading = Object.hasOwn(readingOfLifter, head) ? readingOfLifter[head] : undefined
  const now = reading ?? (/^rotor\d+$/.test(head) ? `drives.${head}` : head === 'attitude' ? `${hull!}.attitude` : head)
  return [now, ...rest].join('.')
}

/** A trial with the layers, changes, cues and watched signals of its machine as they are called now. */
function changedTrial(
  trial: Fields,
  name: string,
  lifter: Fields,
  names: ReadonlyMap<string, string>,
  renamed: (signal: string) => string,
): Fields {
  const layers = isFields(trial.realism) ? trial.realism : {}
  const realism = {
    kind: 'realism',
    ...Object.fromEntries(Object.entries(layerOf).map(([layer, before]) => [layer, layers[before ?? ''] === true])),
  }
  const cues = changed(trial.cues, (cue) => {
    const [group, push] = typeof cue.loop === 'string' ? cue.loop.split('.') : []
    return group === 'pushes' && Object.hasOwn(axes, push!) ? { ...cue, loop: `pushes.pushes.${push!}` } : cue
  })
  const overrides = Object.entries(partsOf(trial.overrides)).flatMap(([key, change]) => {
    const parameter = typeof change.parameter === 'string' ? numberOf(lifter, change.parameter, names) : undefined
    if (parameter === undefined) return []
    return [[key, { ...change, ...(change.how === 'set' ? { amount: setTo(lifter, change) } : {}), parameter }] as const]
  })
  const own = `${name}.`
  const watch = changed(trial.watch, (part) => {
    const { signal } = part
    const isOwn = typeof signal === 'string' && signal.startsWith(own)
    return isOwn ? { ...part, signal: own + renamed(signal.slice(own.length)) } : part
  })
  return {
    ...trial,
    ...{ cues, realism, overrides: Object.fromEntries(overrides) },
    ...(trial.watch === undefined ? {} : { watch }),
  }
}

/** What sensors called their numbers. */
const sensorSlots: Readonly<Record<string, string>> = {
  accelerometerNoise: 'forceNoise',
  gyroDrift: 'gyroBias',
  least: 'nearest',
  most: 'farthest',
}

/** Where a number of a lifter is now; nothing where it is no number any more, such as how much a missed push counts. */
function numberOf(lifter: Fields, path: string, names: ReadonlyMap<string, string>): string | undefined {
  const parameter = names.get(path)
  if (parameter !== undefined) return `parameters.${parameter}`
  const [group, part, slot, ...rest] = path.split('.')
  if (path === 'drag') return 'forces.drag.linear'
  if (path === 'gravity' || group === 'parameters') return path
  if (group === 'bodies' && slot !== 'size') return ['bodies', part, slot === 'at' ? 'centre' : slot, ...rest].join('.')
  const isOn = group === 'sensors' && partsOf(lifter.sensors)[part!] !== undefined
  return isOn ? ['sensors', part, sensorSlots[slot!] ?? slot, ...rest].join('.') : undefined
}

/** A number that a trial set, in what is counted now: noise as a density. */
function setTo(lifter: Fields, { parameter, amount }: Fields): unknown {
  const [group, sensor, slot] = (parameter as string).split('.')
  const rate = group === 'sensors' ? partsOf(lifter.sensors)[sensor!]?.rate : undefined
  return rate !== undefined && /[nN]oise$/.test(slot!) ? scaledNoise(amount, rate) : amount
}

/** Whether enough of it is there to be written anew. */
function isLifter({ bodies, rotors }: Fields): boolean {
  const all = Object.values(partsOf(bodies))
  const isPlace = (value: unknown) => Array.isArray(value) && value.length === 3 && value.every(isWritten)
  return (
    all.length > 0 &&
    all.length === Object.keys(bodies as object).length &&
    all.every(({ mass, at, size }) => isWritten(mass) && isPlace(at) && isPlace(size)) &&
    isFields(rotors) &&
    Number.isInteger(rotors.count) &&
    (rotors.count as number) >= 1 &&
    (rotors.count as number) <= 100
  )
}

function isWritten(value: unknown): value is Written {
  return typeof value === 'number' || (typeof value === 'string' && value.trim().startsWith('='))
}

function isFields(value: unknown): value is Fields {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** The parts of a group; what is none is left out. */
function partsOf(group: unknown): Parts {
  if (!isFields(group)) return {}
  return Object.fromEntries(Object.entries(group).filter((entry): entry is [string, Fields] => isFields(entry[1])))
}

/** A group of named parts with each changed; anything else stays for the schema to explain. */
function changed(group: unknown, change: (part: Fields) => Fields): unknown {
  if (!isFields(group)) return group
  return Object.fromEntries(Object.entries(group).map(([name, part]) => [name, isFields(part) ? change(part) : part]))
}
