import { cosineGust } from './cosineGust'
import { evenAir } from './evenAir'
import { groundProfile } from './groundProfile'
import { heightField } from './heightField'
import { slope } from './slope'
import { standardAir } from './standardAir'
import { steadyWind } from './steadyWind'
import type { SurroundingKind } from './surrounding'

/** In the order people see. */
export const surroundings: readonly SurroundingKind[] = [
  slope,
  groundProfile,
  heightField,
  evenAir,
  standardAir,
  steadyWind,
  cosineGust,
]
