import { accelerometer } from './accelerometer'
import { attitudeSensor } from './attitudeSensor'
import { directionSensor } from './directionSensor'
import { distanceSensor } from './distanceSensor'
import { encoder } from './encoder'
import { formulaSensor } from './formulaSensor'
import { gyroscope } from './gyroscope'
import { inertialUnit } from './inertialUnit'
import { magnetometer } from './magnetometer'
import { positionFix } from './positionFix'
import { tachometer } from './tachometer'
import { velocitySensor } from './velocitySensor'
import type { SensorKind } from './sensor'

/** In the order people see. */
export const mechanismSensors: readonly SensorKind[] = [
  encoder,
  tachometer,
  gyroscope,
  accelerometer,
  inertialUnit,
  attitudeSensor,
  distanceSensor,
  positionFix,
  velocitySensor,
  magnetometer,
  directionSensor,
  formulaSensor,
]
