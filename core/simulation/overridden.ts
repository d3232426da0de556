import { replaceAt } from '../document'
import type { Document, Part, TrialPart } from '../document'
import { machineNumbers } from '../machine'

type Overrides = Readonly<Record<string, Part>>

/** What a change of a document's parameter is told by, before its name. */
const ofDocument = 'parameters.'

/** The parameter of the document that a change of a trial is about; nothing where it is about a number of the machine. */
export function changedParameter({ parameter }: Part): string | undefined {
  return (parameter as string).startsWith(ofDocument) ? (parameter as string).slice(ofDocument.length) : undefined
}

/** A document whose trials change their numbers under other names. */
export function withRenamedChanges(document: Document, renamed: (parameter: string, trial: TrialPart) => string): Document {
  return Object.entries(document.trials).reduce(
    (all, [trial, part]) =>
      Object.entries(part.overrides ?? {}).reduce(
        (next, [key, { parameter }]) =>
          typeof parameter === 'string'
            ? replaceAt(next, `trials.${trial}.overrides.${key}.parameter`, renamed(parameter, part))
            : next,
        all,
      ),
    document,
  )
}

/** A number after the changes of a trial that name it, one after the other. */
export function changedBy(value: number, path: string, overrides: Overrides): number {
  return Object.values(overrides)
    .filter((part) => part.parameter === path)
    .reduce((now, part) => (part.how === 'times' ? now * (part.amount as number) : (part.amount as number)), value)
}

/**
 * A number of a machine as a trial's changes make it: those of parameters first, whose effect on every number was worked out
 * where the document was checked (`numbers` of a change), then those of the number itself.
 */
export function overridden(value: number, path: string, overrides: Overrides): number {
  const worked = Object.values(overrides)
    .map((part) => (part.numbers as Readonly<Record<string, number>> | undefined)?.[path])
    .find((one) => one !== undefined)
  return changedBy(worked ?? value, path, overrides)
}

/** The machine as a trial truly has it, with the numbers themselves: what is structure, such as a zero, follows them. */
export function trulyMade(machine: Part, overrides: Overrides): Part {
  if (Object.keys(overrides).length === 0) return machine
  return machineNumbers(machine).reduce((now, { path, value }) => {
    const changed = overridden(value, path, overrides)
    return changed === value ? now : replaceAt(now, path, changed)
  }, machine)
}
