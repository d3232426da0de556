import { eigenvalues, magnitude } from '../algebra'
import { linearMachine, modes } from '../control'
import { replaceAt } from '../document'
import { machineNumbers } from '../machine'
import type { Document, Part } from '../document'
import { valuesOf } from '../kinds'
import type { StateSpace } from '../linear'
import type { AnyLayer } from '../machine'
import { overridden } from './overridden'
import { trial } from './trial'

export interface FastMode {
  /** rad/s: how far from 0 its pole lies */
  readonly rate: number
  /** The state that has the largest share in it. */
  readonly state: string
}

/** The fastest mode of a trial's machine as it truly is there, about its resting point; nothing where there is none. */
export function fastestMode(document: Document, trialName: string, layers: ReadonlySet<AnyLayer>): FastMode | undefined {
  const system = trueSystem(document, trialName, layers)
  const found = system === undefined ? undefined : modes(system)
  const last = found?.kind === 'done' ? found.value.at(-1) : undefined
  return last === undefined ? undefined : { rate: magnitude(last.pole), state: last.owner }
}

/** The rate of that mode alone, which is all that every compilation asks for; 0 where there is none. */
export function fastestRate(...of: Parameters<typeof fastestMode>): number {
  const system = trueSystem(...of)
  return Math.max(0, ...(system === undefined ? [] : (eigenvalues(system.a) ?? []).map(magnitude)))
}

function trueSystem(document: Document, trialName: string, layers: ReadonlySet<AnyLayer>): StateSpace | undefined {
  const settings = valuesOf(trial, document.trials[trialName]!)
  const linear = linearMachine(trueMachine(document.machines[settings.machine]!, settings.overrides), layers)
  return linear.kind === 'refused' || linear.value.system.dt !== null ? undefined : linear.value.system
}

/** A machine with the numbers that a trial changes. */
function trueMachine(machine: Part, overrides: Readonly<Record<string, Part>>): Part {
  const changed = new Set(Object.values(overrides).map(({ parameter }) => parameter))
  return machineNumbers(machine)
    .filter(({ path }) => changed.has(path))
    .reduce((part, { path, value }) => replaceAt(part, path, overridden(value, path, overrides)), machine)
}
