import { cosineGust } from './cosineGust'
import { drydenAir } from './drydenAir'
import { evenAir } from './evenAir'
import { groundProfile } from './groundProfile'
import { heightField } from './heightField'
import { slope } from './slope'
import { standardAir } from './standardAir'
import { steadyWind } from './steadyWind'
import { windProfile } from './windProfile'
import type { SurroundingKind } from './surrounding'

/** In the order people see. */
export const surroundings: readonly SurroundingKind[] = [
  slope,
  groundProfile,
  heightField,
  evenAir,
  standardAir,
  steadyWind,
  windProfile,
  cosineGust,
  drydenAir,
]
