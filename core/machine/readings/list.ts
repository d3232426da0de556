import { accelerationReading } from './acceleration'
import { attitudeReading } from './attitude'
import { clearanceReading } from './clearance'
import { distanceReading } from './distance'
import { formulaReading } from './formula'
import { placeReading } from './place'
import { velocityReading } from './velocity'
import type { ReadingKind } from './reading'

/** In the order people see. */
export const readings: readonly ReadingKind[] = [
  placeReading,
  velocityReading,
  attitudeReading,
  accelerationReading,
  distanceReading,
  clearanceReading,
  formulaReading,
]
