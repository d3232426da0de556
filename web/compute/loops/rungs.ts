import { magnitude } from '@calm-hand/core/algebra'
import { commandedLoop } from '@calm-hand/core/control'
import type { Document, Part, Problem } from '@calm-hand/core/document'
import { findKind, labelOf, valuesOf } from '@calm-hand/core/kinds'
import { continuousPole } from '@calm-hand/core/linear'
import { analyse, designLoop, loopBlamed, tunings } from '@calm-hand/core/tuning'
import type { LoopAnalysis, LoopDesign } from '@calm-hand/core/tuning'

export interface Rung {
  readonly name: string
  /** What people call it. */
  readonly label: string
  readonly crossover: number | undefined
  readonly phaseMargin: number | undefined
  readonly stable: boolean
  /** What a drag of it turns: the crossover of a requirement, or the weight on the command; nothing where gains are typed. */
  readonly handle: Handle | undefined
  /** Why nothing moves it. */
  readonly stays: string | undefined
  /** rad/s: slowest and fastest closed-loop mode of a law that feeds back states. */
  readonly modes: readonly [number, number] | undefined
  readonly notLinear: boolean
  /** Why it has no design; nothing where it has one. */
  readonly lacks: Lack | undefined
  /** The loop whose reference it moves. */
  readonly commands: string | undefined
}

export interface Lack {
  /** As they follow the name of the loop. */
  readonly words: string
  /** Whether the reason lies in the loop itself, not in one that it waits for. */
  readonly isOwn: boolean
}

export interface Handle {
  /** Of the document. */
  readonly path: string
  /** For a rung at w it is to be scale w^power. */
  readonly scale: number
  readonly power: number
}

/** The loops of a machine as rungs of a ladder. */
export function rungsOf(document: Document, machine: string): Rung[] {
  const own = Object.entries(document.loops).filter(([, part]) => part.machine === machine)
  return own.map(([name, part]) => {
    const tuning = part.tuning
    const known = { name, label: labelOf(part, name), commands: commandedLoop(part.pushes) }
    const design = designLoop(document, name)
    if (design.kind === 'refused') {
      const nothing = { crossover: undefined, phaseMargin: undefined, modes: undefined, stable: false, notLinear: false }
      const handle = handleOf(name, tuning, undefined)
      return { ...known, ...nothing, handle, stays: staysFor(tuning, handle), lacks: lackOf(document, name, design.problems) }
    }
    const analysis = analyse(design.value.model, design.value.gains)
    const { crossover, phaseMargin, stable, notLinear } = analysis
    const handle = handleOf(name, tuning, crossover)
    return {
      ...{ ...known, crossover, phaseMargin, stable, notLinear: notLinear !== undefined },
      ...{ handle, stays: staysFor(tuning, handle) },
      modes: modesOf(design.value, analysis),
      lacks: undefined,
    }
  })
}

function lackOf(document: Document, name: string, problems: readonly Problem[]): Lack {
  const blamed = loopBlamed(problems, name)
  if (blamed === undefined) return { words: `has no gains. ${problems[0]!.what}`, isOwn: true }
  return { words: `waits for ${labelOf(document.loops[blamed], blamed)}, which has no gains.`, isOwn: false }
}

function handleOf(name: string, tuning: Part, crossover: number | undefined): Handle | undefined {
  const kind = findKind(tunings, tuning)!
  const turn = kind.turns?.(valuesOf(kind, tuning), crossover)
  return turn === undefined ? undefined : { path: `loops.${name}.tuning.${turn.slot}`, scale: turn.scale, power: turn.power }
}

/** Why a rung without a handle stays where it is. */
function staysFor(tuning: Part, handle: Handle | undefined): string | undefined {
  if (handle !== undefined) return undefined
  return findKind(tunings, tuning)!.stays ?? 'its crossover follows from what it is designed by'
}

/** Slowest and fastest of the modes that a law with states makes, those of delays apart. */
function modesOf({ model, gains }: LoopDesign, { closedPoles, stable }: LoopAnalysis): readonly [number, number] | undefined {
  if (!stable || !model.law.signals.some((signal) => signal in gains)) return undefined
  const half = Math.PI / model.dt
  const paces = closedPoles.map((pole) => magnitude(continuousPole(pole, model.dt))).filter((pace) => pace > 0 && pace < half)
  return paces.length < 2 ? undefined : [Math.min(...paces), Math.max(...paces)]
}
