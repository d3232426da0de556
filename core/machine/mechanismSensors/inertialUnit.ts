import { attitude } from '../../algebra'
import { name, number, vector } from '../../kinds'
import { attitudeWanted } from './look'
import { defineSensor, errorSlots } from './sensor'
import type { SensorReading } from './sensor'

const axes = ['X', 'Y', 'Z'] as const
const angles = ['roll', 'pitch', 'heading'] as const

const readings: readonly SensorReading[] = [
  ...axes.map((axis) => ({ name: `rate${axis}`, label: `rate about ${axis.toLowerCase()}`, unit: 'rad/s' })),
  ...axes.map((axis) => ({ name: `force${axis}`, label: `specific force along ${axis.toLowerCase()}`, unit: 'm/s²' })),
  ...angles.map((angle) => ({ name: angle, label: angle, unit: 'rad' })),
]

/** Which slots say how a reading errs: rates, specific forces, angles. */
const errors = [
  { noise: 'gyroNoise', bias: 'gyroBias', drift: 'gyroDrift' },
  { noise: 'forceNoise', bias: 'forceBias', drift: 'forceDrift' },
  { noise: 'attitudeNoise', bias: 'attitudeBias', drift: 'attitudeDrift' },
] as const

const { rate, delay, dropout } = errorSlots

/** Gyroscope, accelerometer and attitude in one housing. */
export const inertialUnit = defineSensor({
  name: 'inertialUnit',
  label: 'inertial unit',
  says: 'An inertial unit on {body} reads rates, specific forces and attitude {rate#} times a second.',
  about:
    'Angular velocity, acceleration of its place less gravity (a machine at rest reads +g upward), and turns about z, then y, then x of its body against the world, each in the axes of the body and each with errors of its sort.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }),
    rate,
    delay,
    gyroNoise: number({ label: 'noise density of the rates', unit: 'rad/s/√Hz', least: 0, otherwise: 0, note: 'one-sided' }),
    gyroBias: number({ label: 'bias of the rates', unit: 'rad/s', otherwise: 0 }),
    gyroDrift: number({ label: 'drift of that bias', unit: 'rad/s/√s', least: 0, otherwise: 0, note: 'a random walk' }),
    forceNoise: number({ label: 'noise density of the specific forces', unit: 'm/s²/√Hz', least: 0, otherwise: 0 }),
    forceBias: number({ label: 'bias of the specific forces', unit: 'm/s²', otherwise: 0 }),
    forceDrift: number({ label: 'drift of that bias', unit: 'm/s²/√s', least: 0, otherwise: 0 }),
    attitudeNoise: number({ label: 'noise density of the angles', unit: 'rad/√Hz', least: 0, otherwise: 0 }),
    attitudeBias: number({ label: 'bias of the angles', unit: 'rad', otherwise: 0 }),
    attitudeDrift: number({ label: 'drift of that bias', unit: 'rad/√s', least: 0, otherwise: 0 }),
    dropout,
  },
  measures: ({ body }, look) =>
    ['rollRate', 'pitchRate', 'yawRate', undefined, undefined, undefined, ...angles].map((value) =>
      value === undefined ? undefined : look.reading(...attitudeWanted(body), value),
    ),
  errors: (index) => errors[Math.floor(index / 3)]!,
  readings: () => readings,
  reads: (sight, part) => {
    const body = part.body
    const { roll, pitch, heading } = attitude(sight.axes(body))
    return [...sight.turningInBody(body), ...sight.specificForceInBody(body, sight.vector('at')), roll, pitch, heading]
  },
})
