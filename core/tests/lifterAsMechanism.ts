import type { Part } from '../document'
import { cos, sin } from '../expression'
import { rotorPlaces } from '../machine'

type Parts = Readonly<Record<string, Part>>
type Triple = readonly [number, number, number]

/** Shapes of a lifter's bodies as those of any body. */
const boxed = new Set(['box', 'hull', 'skids', 'arms'])

/**
 * A lifter as bodies on joints: its first body free, the others fixed to it, a rotor a drive, its four pushes on the centre
 * of mass spread over them, and readings of the centre of mass under the names that loops held. Numbers must be worked out.
 */
export function lifterAsMechanism(machine: Part): Part {
  const bodies = Object.entries(machine.bodies as Parts)
  const [hull] = bodies[0]!
  const rotors = machine.rotors as unknown as Readonly<Record<string, number>> & { readonly allocation?: string }
  const at = centreOf(machine)
  const drives = rotorPlaces(rotors.count!).map(({ angle, turns }, i): [string, Part] => [
    `rotor${i + 1}`,
    {
      ...{ kind: 'rotor', body: hull, axis: [0, 0, 1], turns: turns === 1 ? 'left' : 'right', radius: rotors.radius! },
      at: [(cos(angle) as number) * rotors.armLength!, (sin(angle) as number) * rotors.armLength!, rotors.height!],
      ...{ thrust: rotors.thrustCoefficient!, torque: rotors.torqueCoefficient!, lag: rotors.lag! },
      ...{ least: rotors.leastSpeed!, most: rotors.mostSpeed! },
    },
  ])
  const push = (sort: string, axis: Triple): Part => ({ kind: 'bodyPush', body: hull, sort, at, axis, lever: rotors.armLength! })
  const pushes = {
    lift: push('force', [0, 0, 1]),
    rollMoment: push('torque', [1, 0, 0]),
    pitchMoment: push('torque', [0, 1, 0]),
    yawMoment: push('torque', [0, 0, 1]),
  }
  const lists = {
    pushes: Object.keys(pushes)
      .map((name) => `pushes.${name}`)
      .join(' '),
    drives: drives.map(([name]) => `drives.${name}`).join(' '),
  }
  const counts = [[rotors.liftCounts ?? 1, rotors.tiltCounts ?? 30, rotors.tiltCounts ?? 30, rotors.turnCounts ?? 0.3]]
  const allocation: Part =
    rotors.allocation === 'leastSquares' ? { kind: 'withinLimits', ...lists, counts } : { kind: 'fixedMix', ...lists }
  return {
    kind: 'mechanism',
    gravity: machine.gravity,
    bodies: Object.fromEntries(bodies.map(([name, body], i) => [name, linked(body, i === 0 ? undefined : hull)])),
    forces: { drag: { kind: 'airDrag', body: hull, at, linear: machine.drag ?? 0, quadratic: 0 } },
    drives: Object.fromEntries(drives),
    pushes,
    allocations: { rotors: allocation },
    readings: {
      place: { kind: 'placeReading', body: hull, at, from: 'ground', fromAt: at },
      attitude: { kind: 'attitudeReading', body: hull, from: 'ground' },
    },
    sensors: Object.fromEntries(
      Object.entries((machine.sensors ?? {}) as Parts).map(([name, sensor]) => [name, carried(sensor, hull, at)]),
    ),
    surroundings: { ground: { kind: 'groundProfile', profile: [[-1000, machine.ground ?? 0], [1000, machine.ground ?? 0]] } }, // prettier-ignore
  } as unknown as Part
}

/** Where the signals of a lifter are in its mechanism. */
export const readingOf: Readonly<Record<string, string>> = Object.fromEntries([
  ...['east', 'north', 'height', 'eastRate', 'northRate', 'climbRate'].map((name) => [name, `readings.place.${name}`]),
  ...['roll', 'pitch', 'heading', 'rollRate', 'pitchRate', 'yawRate', 'tiltEast', 'tiltNorth'].map((name) => [
    name,
    `readings.attitude.${name}`,
  ]),
])

function centreOf(machine: Part): Triple {
  const bodies = Object.values(machine.bodies as Parts) as unknown as { readonly mass: number; readonly at: Triple }[]
  const mass = bodies.reduce((sum, body) => sum + body.mass, 0)
  return [0, 1, 2].map((k) => bodies.reduce((sum, body) => sum + body.mass * body.at[k]!, 0) / mass) as unknown as Triple
}

/** A sensor on a body; the noise of a sample as a density. */
function carried(sensor: Part, body: string, centre: Triple): Part {
  const { rate, noise, gyroNoise, accelerometerNoise, attitudeNoise, gyroDrift, least, most, at } = sensor as unknown as Readonly<
    Record<string, number>
  > & { readonly at?: Triple }
  const density = (deviation = 0) => deviation * Math.sqrt(2 / rate!)
  const kinds: Readonly<Record<string, object>> = {
    rangeFinder: {
      ...{ kind: 'distanceSensor', at, axis: [0, 0, -1], nearest: least, farthest: most, cone: 1.5 },
      noise: density(noise),
    },
    inertialSensor: {
      ...{ kind: 'inertialUnit', at: centre, gyroNoise: density(gyroNoise), gyroBias: gyroDrift ?? 0 },
      ...{ forceNoise: density(accelerometerNoise), attitudeNoise: density(attitudeNoise) },
    },
    positionFixes: { kind: 'positionFix', at: centre, noise: density(noise) },
  }
  return { ...kinds[sensor.kind], body, rate } as unknown as Part
}

function linked({ mass, at, inertia, shape, size }: Part, on: string | undefined): Part {
  const joint = { kind: on === undefined ? 'free' : 'fixed', on: on ?? 'ground', at: [0, 0, 0], turned: [0, 0, 0] }
  const shapes = boxed.has(shape as string) ? { shapes: { box: { kind: 'box', at, turned: [0, 0, 0], size } } } : {}
  return { kind: 'linkedBody', mass, centre: at, inertia, joint, ...shapes } as unknown as Part
}
