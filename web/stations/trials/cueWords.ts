import { cuedPush } from '@calm-hand/core/control'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { findHeld, findPush, machineNumbers, shortName } from '@calm-hand/core/machine'
import { alterableSignals, touchCue } from '@calm-hand/core/simulation'
import type { Cue, RunSignal } from '@calm-hand/core/simulation'
import { loopLabel } from '../../state/labels'
import { motionUnit, shownUnit, signalUnit, withUnit } from '../../units'
import type { TrialView } from './useTrialView'

/** A signal with the unit in which people see it. */
export function shownSignal(signal: RunSignal): RunSignal {
  return { ...signal, unit: shownUnit(signalUnit(signal)) }
}

/** The unit of the loop or push that a command or a hand moves. */
export function commandUnit(document: Document, machine: Part, loop: string): string {
  const push = findPush(machine, cuedPush(loop) ?? '')
  return push?.unit ?? findHeld(machine, document.loops[loop]?.holds ?? '')?.unit ?? ''
}

/** What a cue does, in a few words. */
export function cueWords(
  document: Document,
  view: Pick<TrialView, 'trial' | 'machine' | 'machineName'>,
  kind: Cue,
  cue: Part,
): string {
  const { trial, machine, machineName } = view
  if (kind.lane === 'commands') {
    const push = findPush(machine, cuedPush(cue.loop as string) ?? '')
    const target = push?.label ?? loopLabel(document, cue.loop as string)
    return `${target} ${typeof cue.by === 'number' ? signed(cue.by, motionUnit(commandUnit(document, machine, cue.loop as string))) : kind.label}`
  }
  if (kind.name === touchCue.name) return labelOf(partsIn(document.trials[trial]!.hands)[cue.hand as string], cue.hand as string)
  if (kind.alters !== undefined) {
    const signal = alterableSignals(document, machineName).find(({ name }) => name === cue.signal)
    return `${signal?.label ?? String(cue.signal)} ${kind.label}`
  }
  if (kind.slots.part !== undefined) {
    const loss = typeof cue.loss === 'number' ? `, ${Math.round(100 * cue.loss)} % lost` : ''
    return `${shortName(String(cue.part), machine)}${loss}`
  }
  if (kind.slots.number !== undefined)
    return machineNumbers(machine).find(({ path }) => path === cue.number)?.words ?? String(cue.number)
  const body = typeof cue.body === 'string' ? ` of ${labelOf(partsIn(machine.bodies)[cue.body], cue.body)}` : ''
  return `${kind.label}${body}`
}

const signed = (value: number, unit: string) => `${value >= 0 ? '+' : ''}${withUnit(value, unit, 3)}`
