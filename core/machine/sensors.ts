import { number, vector } from '../kinds'
import type { Kind } from '../kinds'

/** Distance to the ground along the machine's downward axis. */
export const rangeFinder = {
  name: 'rangeFinder',
  says: 'measures the distance to the ground {rate#} times a second, within {noise}',
  about:
    "Distance from its place to level ground along the machine's -z axis. Outside its range it reads the nearest end, and estimators leave that reading out.",
  slots: {
    at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }),
    rate: number({ label: 'sample rate', unit: 'Hz', above: 0, most: 10000 }),
    noise: number({ label: 'noise (standard deviation)', unit: 'm', least: 0 }),
    least: number({ label: 'smallest range', unit: 'm', least: 0 }),
    most: number({ label: 'largest range', unit: 'm', above: 0 }),
  },
} as const satisfies Kind

/** Gyroscope, accelerometer and attitude in one housing at the centre of mass. */
export const inertialSensor = {
  name: 'inertialSensor',
  says: 'measures rates, specific force and attitude {rate#} times a second',
  about: 'Angular velocity, specific force and attitude in the axes of the machine, each with white noise.',
  slots: {
    rate: number({ label: 'sample rate', unit: 'Hz', above: 0, most: 10000 }),
    gyroNoise: number({ label: 'gyroscope noise (standard deviation)', unit: 'rad/s', least: 0 }),
    accelerometerNoise: number({ label: 'accelerometer noise (standard deviation)', unit: 'm/s²', least: 0 }),
    attitudeNoise: number({ label: 'attitude noise (standard deviation)', unit: 'rad', least: 0 }),
    gyroDrift: number({ label: 'gyroscope drift, about each axis', unit: 'rad/s', otherwise: 0 }),
  },
} as const satisfies Kind

/** Place of the centre of mass, from a satellite or a radio system. */
export const positionFixes = {
  name: 'positionFixes',
  says: 'fixes the position {rate#} times a second, within {noise}',
  about: 'East, north and height of the centre of mass, each with white noise of its own.',
  slots: {
    rate: number({ label: 'sample rate', unit: 'Hz', above: 0, most: 10000 }),
    noise: number({ label: 'noise (standard deviation)', unit: 'm', least: 0 }),
  },
} as const satisfies Kind

export const sensors = [rangeFinder, inertialSensor, positionFixes]
