import type { Document, Part } from '@calm-hand/core/document'
import { addPart } from '../../state/edits'
import type { Edit } from '../../state/edits'
import { freeName } from './partEdits'
import type { Added } from './partEdits'

/** One more machine beside those that the project has. */
export function addMachine(document: Document, part: Part, wanted: string): Added {
  const name = freeName(Object.keys(document.machines), wanted)
  return { name, change: addPart(`machines.${name}`, part, `Add ${name}`) }
}

/** Without a machine, and without the loops, estimators and trials that are about it. */
export function removeMachine(name: string): Edit {
  return {
    label: `Remove ${name}`,
    apply: (document) => {
      const others = (group: Readonly<Record<string, Part>>) =>
        Object.fromEntries(Object.entries(group).filter(([, part]) => part.machine !== name))
      const { [name]: _gone, ...machines } = document.machines
      const [loops, estimators, trials] = [document.loops, document.estimators, document.trials].map(others) as [
        Document['loops'],
        Document['estimators'],
        Document['trials'],
      ]
      const tray = Object.fromEntries(Object.entries(document.tray).filter(([, { trial }]) => trial in trials))
      return { ...document, machines, loops, estimators, trials, tray }
    },
  }
}
