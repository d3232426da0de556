import { laws, lawOf, linearMachine, stateFeedback } from '@calm-hand/core/control'
import type { Document, LoopPart, Part } from '@calm-hand/core/document'
import { blankPart, findKind } from '@calm-hand/core/kinds'
import { movedOutputs } from '@calm-hand/core/linear'
import { designLayers, findHeld, heldQuantities } from '@calm-hand/core/machine'
import { suitsLaw, tunings, typedGains, weights } from '@calm-hand/core/tuning'
import type { TuningStart } from '@calm-hand/core/tuning'
import type { LoopView } from './loopView'

/** The ways to gains of a loop's law, by name; none for a law without gains. */
export function methodsFor(loop: LoopPart): Readonly<Record<string, string>> {
  const law = lawOf(loop)
  return Object.fromEntries(tunings.filter((one) => suitsLaw(one, law)).map(({ name, how }) => [name, how]))
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
  const deviations = noticed(document, name, signals)
  const tuning = isState
    ? { ...weights.starts({ deviations, push: 1 }), kind: weights.name }
    : { kind: typedGains.name, kp: 0, ki: 0, kd: 0 }
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

/** Deviations of what a loop holds and of signals fed back that would be noticed. */
function noticed(document: Document, name: string, signals: readonly string[]): number[] {
  const { machine: owner, holds } = document.loops[name]!
  const machine = document.machines[owner]!
  return [holds, ...signals].map((signal) => usual[findHeld(machine, signal)?.unit ?? ''] ?? 1)
}

/** Another way to the gains of a loop, starting from what it is `now`, where that is known. */
export function otherTuning(document: Document, name: string, kind: string, now: LoopView['now']): Part {
  const signals = now?.design.law.signals ?? []
  const start: TuningStart = {
    ...{ crossover: now?.analysis.crossover, phaseMargin: now?.analysis.phaseMargin },
    ...{ typed: now?.design.typed, poles: now?.design.poles },
    deviations: noticed(document, name, signals),
    // a fifth of what the command of a step is would be felt
    push: now !== undefined && now.beyondRest > 0 ? Number((now.beyondRest / 5).toPrecision(1)) : 1,
  }
  return { ...findKind(tunings, { kind })!.starts(start), kind }
}
