import type { Document, Part } from '@calm-hand/core/document'
import { labelOf, spoken } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { findHeld, shortName } from '@calm-hand/core/machine'
import { signalsOf } from '@calm-hand/core/simulation'
import { motionUnit, withUnit } from '../units'

/** A part of a trial as its sentence says it, in the units that people see; nothing of what no kind knows. */
export function partWords(
  document: Document,
  trial: string,
  kinds: readonly AnyKind[],
  part: Part | undefined,
): string | undefined {
  const signals = document.trials[trial] === undefined ? [] : signalsOf(document, trial)
  const machine = document.machines[document.trials[trial]?.machine ?? '']
  // a limit has the unit of what it is of
  const named = part === undefined ? undefined : (part.signal ?? part.loop)
  const loop = document.loops[String(part?.loop)]
  const own = signals.find((one) => one.name === named)?.unit ?? (loop && machine && findHeld(machine, loop.holds)?.unit) ?? ''
  return spoken(kinds, part, {
    number: (value, unit) => withUnit(value, motionUnit(unit === '' ? own : unit)),
    name: (name, of) => {
      if (of === 'loop' || of === 'cued') return labelOf(document.loops[name], name)
      if (of === 'signal') return signals.find((one) => one.name === name)?.label ?? name
      if (of === 'held') return (machine && findHeld(machine, name)?.label) ?? name
      return of === 'text' ? name : shortName(name, machine)
    },
  })
}
