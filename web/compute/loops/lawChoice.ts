import {
  edgeOfSwinging,
  followWithin,
  laws,
  lawOf,
  linearMachine,
  poleLocations,
  relayExperiment,
  requirement,
  stateFeedback,
  stepExperiment,
  typedGains,
  weights,
} from '@calm-hand/core/control'
import type { Document, LoopPart, Part } from '@calm-hand/core/document'
import { blankPart, findKind } from '@calm-hand/core/kinds'
import { movedOutputs } from '@calm-hand/core/linear'
import { designLayers, findHeld, heldQuantities } from '@calm-hand/core/machine'

/** Where gains come from, in words, by what the law is. */
const pidMethods: Readonly<Record<string, string>> = {
  [requirement.name]: 'by crossover and margin',
  [followWithin.name]: 'by a time constant',
  [edgeOfSwinging.name]: 'by the edge of swinging',
  [relayExperiment.name]: 'by a relay experiment',
  [stepExperiment.name]: 'by a step experiment',
  [typedGains.name]: 'as typed',
}
const stateMethods: Readonly<Record<string, string>> = {
  [weights.name]: 'by what may deviate',
  [poleLocations.name]: 'by pole locations',
  [typedGains.name]: 'as typed',
}

/** The ways to gains of a loop's law; none for a law without gains. */
export function methodsFor(loop: LoopPart): Readonly<Record<string, string>> {
  if (loop.law.kind === stateFeedback.name) return stateMethods
  return lawOf(loop).gains.length === 0 ? {} : pidMethods
}

/** A loop with another law, and gains that suit it. `document` is the last without problems, `loop` as it is edited. */
export function withLaw(document: Document, name: string, loop: LoopPart, kind: string): LoopPart {
  const sort = findKind(laws, { kind })!
  const law = blankPart(sort, loop.law)
  const isState = kind === stateFeedback.name
  const signals = isState ? signalsFor(document, name) : []
  const states = Object.fromEntries(signals.map((signal, i) => [`s${i + 1}`, { kind: 'fedBack', signal }]))
  const first = Object.values(states)[0]
  const given: Readonly<Record<string, Part>> = {
    [stateFeedback.name]: { ...law, states },
    stateLogic: { ...law, states: { start: blankState('start') } },
    typedLaw: { ...law, command: 'error' },
    gainSchedule: { ...law, signal: first?.signal ?? loop.holds },
  }
  const next = { ...loop, law: given[kind] ?? law }
  const fits = lawOf(next).gains.length === 0 || (!isState && loop.tuning.kind in methodsFor(next))
  const tuning = isState ? startingWeights(document, name, signals) : { kind: typedGains.name, kp: 0, ki: 0, kd: 0 }
  return fits ? next : { ...next, tuning }
}

function blankState(next: string): Part {
  return { kind: 'logicState', command: '0', when: 'since > 1', next }
}

/** States of the machine that the push moves, beside what is held. */
function signalsFor(document: Document, name: string): string[] {
  const { machine: owner, holds, pushes } = document.loops[name]!
  const machine = document.machines[owner]!
  const linear = linearMachine(machine, designLayers.withoutLag)
  if (linear.kind === 'refused') return []
  const { system } = linear.value
  const moved = new Set(movedOutputs(system, system.inputs.indexOf(pushes)).map((i) => system.outputs[i]!))
  return heldQuantities(machine)
    .map((quantity) => quantity.name)
    .filter((quantity) => quantity !== holds && moved.has(quantity) && system.states.includes(quantity))
}

/** Deviations that would be noticed, in the unit of each: common practice, no source. */
const usual: Readonly<Record<string, number>> = { m: 0.1, rad: 0.1, 'm/s': 0.5, 'rad/s': 0.5 }

export function startingWeights(document: Document, name: string, signals: readonly string[]): Part {
  const { machine: owner, holds } = document.loops[name]!
  const machine = document.machines[owner]!
  const unit = (signal: string) => findHeld(machine, signal)?.unit ?? ''
  return {
    kind: weights.name,
    deviations: [holds, ...signals].map((signal) => [usual[unit(signal)] ?? 1]),
    most: 1,
    integral: 1,
  }
}
