import { airDrag } from './airDrag'
import { cable } from './cable'
import { dcMotor } from './dcMotor'
import { effortDrive } from './effortDrive'
import { floatColumn } from './floatColumn'
import { gasStrut } from './gasStrut'
import { groundContact } from './groundContact'
import { jointFriction } from './jointFriction'
import { jointSpring } from './jointSpring'
import { jointStops } from './jointStops'
import { magnet } from './magnet'
import { pointSpring } from './pointSpring'
import { battery } from './battery'
import { firstOrderServo, servo } from './servo'
import { formulaEffort } from './formulaEffort'
import { formulaForce } from './formulaForce'
import { gearMotor } from './gearMotor'
import { resistance } from './resistance'
import { rotor } from './rotor'
import { sheetMotor } from './sheetMotor'
import { steadyForce } from './steadyForce'
import { tableForce } from './tableForce'
import { wheelContact } from './wheelContact'
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
  wheelContact,
  floatColumn,
  airDrag,
  resistance,
  tableForce,
  formulaEffort,
  formulaForce,
  steadyForce,
]
export const drives: readonly EffectKind[] = [
  effortDrive,
  dcMotor,
  sheetMotor,
  gearMotor,
  firstOrderServo,
  servo,
  rotor,
  magnet,
  battery,
]
export const effects: readonly EffectKind[] = [...forces, ...drives]
