import { cuedPush } from '@calm-hand/core/control'
import type { Document, Part } from '@calm-hand/core/document'
import { findKind, labelOf, namesIn, spoken } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { findHeld, findPush, machineNumbers, shortName } from '@calm-hand/core/machine'
import { alterableSignals, cues as cueKinds, fullSentence, override, signalsOf } from '@calm-hand/core/simulation'
import type { RunSignal } from '@calm-hand/core/simulation'
import { motionUnit, withUnitOrWhole } from '../units'
import type { UnitSaid } from '../units'
import { cueUnits } from './trials/cueUnits'

/** Where a part stands: in a trial, or about a machine. */
export type Owner = { readonly trial: string } | { readonly machine: string }

/** A part as its sentence says it, in the units that people see; nothing of what no kind knows. */
export function partWords(
  document: Document,
  owner: Owner,
  kinds: readonly AnyKind[],
  part: Part | undefined,
): string | undefined {
  const trial = 'trial' in owner ? document.trials[owner.trial] : undefined
  const signals = 'trial' in owner && trial !== undefined ? signalsOf(document, owner.trial) : []
  const machineName = 'machine' in owner ? owner.machine : (trial?.machine ?? '')
  const machine = document.machines[machineName]
  const units = part === undefined || machine === undefined ? {} : unitsIn(document, { machine, machineName }, part)
  // a limit has the unit of what it is of
  const named = part === undefined ? undefined : (part.signal ?? part.loop)
  const loop = document.loops[String(part?.loop)]
  const own = signals.find((one) => one.name === named)?.unit ?? (loop && machine && findHeld(machine, loop.holds)?.unit) ?? ''
  return spoken(kinds, part, {
    says: (says, one) => (findKind(cueKinds, one) === undefined ? says : fullSentence(says, one)),
    number: (value, unit, slot) => {
      const said = units[slot] ?? (unit === '' ? own : unit)
      return withUnitOrWhole(value, typeof said === 'string' ? motionUnit(said) : said)
    },
    name: (name, of) => nameWords(document, machineName, signals, name, of),
  })
}

/** Units of slots that hang on what the part is about. */
function unitsIn(
  document: Document,
  of: { readonly machine: Part; readonly machineName: string },
  part: Part,
): Readonly<Record<string, UnitSaid>> {
  const cue = findKind(cueKinds, part)
  if (cue !== undefined) return cueUnits(document, of, cue, part)
  if (part.kind !== override.name || part.how === 'times') return {}
  return { amount: machineNumbers(of.machine).find(({ path }) => path === part.parameter)?.unit ?? '' }
}

function nameWords(document: Document, machineName: string, signals: readonly RunSignal[], name: string, of: string): string {
  const machine = document.machines[machineName]
  if (of === 'machine') return labelOf(document.machines[name], name)
  if (of === 'signal') return signals.find((one) => one.name === name)?.label ?? name
  if (of === 'loop' || name.startsWith('loops.')) {
    const loop = name.replace(/^loops\./, '')
    return document.loops[loop] === undefined ? name : labelOf(document.loops[loop], loop)
  }
  if (of === 'sibling' || of === 'hand') return labelOf(undefined, name)
  if (machine === undefined || of === 'text') return name
  switch (of) {
    case 'held':
      return findHeld(machine, name)?.label ?? name
    case 'cued': {
      const push = cuedPush(name)
      return push === undefined ? labelOf(document.loops[name], name) : (findPush(machine, push)?.label ?? name)
    }
    case 'altered':
      return alterableSignals(document, machineName).find((one) => one.name === name)?.label ?? name
    case 'pushes':
    case 'drives':
    case 'coordinates':
      return namesIn(name)
        .map((one) => shortName(one, machine))
        .join(', ')
    case 'number':
    case 'parameter':
      return machineNumbers(machine).find(({ path }) => path === name)?.words ?? name
    default:
      return shortName(name, machine)
  }
}
