import { currentVersion } from '../document'
import type { Document, Part } from '../document'
import { mechanismLayers } from '../machine'

export type Values = Readonly<Record<string, unknown>>

/** Realism of a machine that is no lifter, with only these layers on, and its estimators. */
export function realismWith(on: readonly string[]): Part {
  const all = ['sampling', ...mechanismLayers.map(({ name }) => name)]
  return { kind: 'realism', estimator: true, ...Object.fromEntries(all.map((name) => [name, on.includes(name)])) }
}

const loopDefaults = {
  ...{ kind: 'loop', machine: 'm', reference: 'cue', law: { kind: 'proportional' }, reads: 'true', rate: 100, delay: 0 },
  ...{ closed: true, tuning: { kind: 'typedGains', kp: 0, ki: 0, kd: 0 }, feedforwards: {} },
}
const trialDefaults = {
  ...{ kind: 'trial', title: 'Run', machine: 'm', cues: {}, after: 1, method: 'fixed', step: 0.001, seed: 1, overrides: {} },
  realism: realismWith(['sampling']),
}

/** A document of one machine `m` with loops, and a trial `run`; what is left out of them is at its plainest. */
export function oneMachine(
  machine: Part,
  loops: Readonly<Record<string, Values>>,
  trial: Values = {},
  estimators: Readonly<Record<string, Values>> = {},
): Document {
  const whole = Object.entries(loops).map(([name, loop]) => [name, { ...loopDefaults, ...loop }])
  return {
    ...{ format: 'calm-hand', version: currentVersion, title: 'T', about: '', note: '', up: '+z', estimators, tray: {} },
    ...{ machines: { m: machine }, loops: Object.fromEntries(whole), trials: { run: { ...trialDefaults, ...trial } } },
  } as unknown as Document
}
