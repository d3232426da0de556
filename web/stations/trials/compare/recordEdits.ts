import { partsIn, replaceAll, replaceAt } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import type { NumberShare } from '@calm-hand/core/identification'
import { askedNumber, override, recordAsked } from '@calm-hand/core/simulation'
import type { AskedRecord } from '../../../state/against'
import { setValue } from '../../../state/edits'
import type { Edit } from '../../../state/edits'
import { freeName } from '../../machine/partEdits'

/** Takes a record up beside its trial, and asks about it. */
export function addRecord(
  document: Document,
  trial: string,
  part: Part,
  to: number,
): { readonly name: string; readonly change: Edit } {
  const known = partsIn(document.trials[trial]!.records)
  const name = freeName(Object.keys(known), 'record')
  const apply = (now: Document) => {
    const withIt = replaceAt(now, `trials.${trial}.records`, { ...partsIn(now.trials[trial]!.records), [name]: part })
    return replaceAt(withIt, `trials.${trial}.against`, { kind: recordAsked.name, record: name, from: 0, to })
  }
  return { name, change: { label: `Take up ${String(part.file)}`, apply } }
}

/** Another record stands beside the trial, over the same window. */
export function compareWith(trial: string, asked: AskedRecord, record: string): Edit {
  return setValue(`trials.${trial}.against`, { kind: recordAsked.name, ...asked, record }, 'Compare with another record')
}

/** Lets a record go; what is asked about it with it. */
export function removeRecord(trial: string, name: string): Edit {
  return {
    label: 'Let a record go',
    apply: (document) => {
      const part = document.trials[trial]!
      const { [name]: _gone, ...records } = partsIn(part.records)
      const left = Object.keys(records)
      const { against, ...rest } = part
      const asked =
        (against as Part | undefined)?.record === name
          ? left[0] === undefined
            ? undefined
            : { ...(against as Part), record: left[0] }
          : against
      const next = {
        ...rest,
        records: left.length === 0 ? undefined : records,
        ...(asked === undefined ? {} : { against: asked }),
      }
      return { ...document, trials: { ...document.trials, [trial]: next } } as Document
    },
  }
}

/** Numbers that may be others, as parts. */
export function askedNumbers(names: readonly string[]): Readonly<Record<string, Part>> {
  return Object.fromEntries([...new Set(names)].map((number, i) => [`n${i + 1}`, { kind: askedNumber.name, number }]))
}

/** A value as finely as it is known: a twentieth of how far it may be off. */
export function asKnown({ fitted, bound }: Pick<NumberShare, 'fitted' | 'bound'>): number {
  if (!(bound > 0) || fitted === 0) return fitted
  const digits = Math.ceil(Math.log10(Math.abs(fitted) / bound)) + 2
  return Number(fitted.toPrecision(Math.min(12, Math.max(2, digits))))
}

/** Where a number of an account stands in the document. */
export function placeOfNumber(machine: string, { name }: Pick<NumberShare, 'name'>): string {
  if (name.startsWith('parameters.')) return `${name}.value`
  return name.startsWith('scenes.') ? name : `machines.${machine}.${name}`
}

/** Numbers of the document become what was fitted. */
export function takeOver(machine: string, numbers: readonly NumberShare[]): Edit {
  const values = new Map(numbers.map((one) => [placeOfNumber(machine, one), asKnown(one)]))
  const what = numbers.length === 1 ? numbers[0]!.label : `${numbers.length} numbers`
  return { label: `Take over ${what}`, apply: (document) => replaceAll(document, values) }
}

/** The trial alone has them: loops, estimators and prediction keep those of the document. */
export function tryInTrial(trial: string, numbers: readonly NumberShare[]): Edit {
  return {
    label: 'Try fitted numbers in the trial',
    apply: (document) => {
      const kept = Object.entries(partsIn(document.trials[trial]!.overrides)).filter(
        ([, one]) => !numbers.some(({ name }) => name === one.parameter),
      )
      const changes = Object.fromEntries(kept)
      for (const one of numbers)
        changes[freeName(Object.keys(changes), 'fitted')] = {
          kind: override.name,
          parameter: one.name,
          how: 'set',
          amount: asKnown(one),
        }
      return replaceAt(document, `trials.${trial}.overrides`, changes)
    },
  }
}
