import type { Document, Part } from '@calm-hand/core/document'
import { machineNumbers } from '@calm-hand/core/machine'
import { alterableSignals } from '@calm-hand/core/simulation'
import type { Cue } from '@calm-hand/core/simulation'
import { motionUnit } from '../../units'
import type { UnitSaid } from '../../units'
import { commandUnit } from './cueWords'
import type { TrialView } from './useTrialView'

/** People say losses in hundredths. */
const percent = { name: '%', size: 0.01 }

/** Of a command: slots in the unit of what is held, and what follows it. */
const unitsAfter = { by: '', speed: '/s', acceleration: '/s²', jerk: '/s³' } as const
/** Of a fault: slots in the unit of the signal. */
const signalSlots = { instead: '', by: '', rate: '/s', deviation: '', step: '', least: '', most: '' } as const

/** Units of slots of a cue that hang on what it is about. */
export function cueUnits(
  document: Document,
  view: Pick<TrialView, 'machine' | 'machineName'>,
  kind: Cue,
  cue: Part,
): Readonly<Record<string, UnitSaid>> {
  const inUnit = (slots: Readonly<Record<string, string>>, unit: string) =>
    Object.fromEntries(
      Object.entries(slots).flatMap(([slot, after]) => (slot in kind.slots ? [[slot, motionUnit(`${unit}${after}`)]] : [])),
    )
  if (kind.lane === 'commands') return inUnit(unitsAfter, commandUnit(document, view.machine, cue.loop as string))
  if (kind.slots.signal !== undefined) {
    const signal = alterableSignals(document, view.machineName).find(({ name }) => name === cue.signal)
    return inUnit(signalSlots, signal?.unit ?? '')
  }
  if (kind.slots.loss !== undefined) return { loss: percent }
  if (kind.slots.number === undefined || cue.how === 'times') return {}
  const unit = machineNumbers(view.machine).find(({ path }) => path === cue.number)?.unit ?? ''
  return { amount: cue.how === 'drifts' ? `${unit}/s` : unit }
}
