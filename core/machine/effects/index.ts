import { airDrag } from './airDrag'
import { cable } from './cable'
import { dcMotor } from './dcMotor'
import { effortDrive } from './effortDrive'
import { gasStrut } from './gasStrut'
import { groundContact } from './groundContact'
import { jointFriction } from './jointFriction'
import { jointSpring } from './jointSpring'
import { jointStops } from './jointStops'
import { magnet } from './magnet'
import { pointSpring } from './pointSpring'
import type { EffectKind } from './effect'

/** In the order people see. */
export const forces: readonly EffectKind[] = [
  jointSpring,
  jointFriction,
  jointStops,
  pointSpring,
  gasStrut,
  cable,
  groundContact,
  airDrag,
]
export const drives: readonly EffectKind[] = [effortDrive, dcMotor, magnet]
export const effects: readonly EffectKind[] = [...forces, ...drives]
