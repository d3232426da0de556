import { cosineGust } from './cosineGust'
import { daylight } from './daylight'
import { drydenAir } from './drydenAir'
import { evenAir } from './evenAir'
import { groundProfile } from './groundProfile'
import { heavingDeck } from './heavingDeck'
import { heightField } from './heightField'
import { irregularSea } from './irregularSea'
import { regularWaves } from './regularWaves'
import { slope } from './slope'
import { standardAir } from './standardAir'
import { steadyWind } from './steadyWind'
import { stillWater } from './stillWater'
import { windProfile } from './windProfile'
import type { SurroundingKind } from './surrounding'

export type { Light } from './surrounding'

/** In the order people see. */
export const surroundings: readonly SurroundingKind[] = [
  slope,
  groundProfile,
  heightField,
  heavingDeck,
  evenAir,
  standardAir,
  steadyWind,
  windProfile,
  cosineGust,
  drydenAir,
  stillWater,
  regularWaves,
  irregularSea,
  daylight,
]
