import { accelerometer } from './accelerometer'
import { distanceSensor } from './distanceSensor'
import { encoder } from './encoder'
import { formulaSensor } from './formulaSensor'
import { gyroscope } from './gyroscope'
import { positionFix } from './positionFix'
import { tachometer } from './tachometer'
import type { SensorKind } from './sensor'

/** In the order people see. */
export const mechanismSensors: readonly SensorKind[] = [
  encoder,
  tachometer,
  gyroscope,
  accelerometer,
  distanceSensor,
  positionFix,
  formulaSensor,
]
