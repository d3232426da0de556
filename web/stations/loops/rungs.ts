import { magnitude } from '@calm-hand/core/algebra'
import { commandedLoop, poleLocations, requirement, typedGains, weights } from '@calm-hand/core/control'
import { labelOf } from '@calm-hand/core/kinds'
import type { Document, Part } from '@calm-hand/core/document'
import { valuesOf } from '@calm-hand/core/kinds'
import { continuousPole } from '@calm-hand/core/linear'
import { analyse, designLoop } from '@calm-hand/core/tuning'
import type { LoopAnalysis, LoopDesign, TogetherFigures } from '@calm-hand/core/tuning'
import { withUnit } from '../../units'

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
  /** The loop whose reference it moves. */
  readonly commands: string | undefined
}

export interface Handle {
  /** Of the document. */
  readonly path: string
  /** What it is to be for a rung at w. */
  readonly valueAt: (w: number) => number
}

/** With the weight on the command the crossover goes about as its root: common practice for what integrates twice, no source. */
const weightPower = 2

function handleOf(name: string, tuning: Part, crossover: number | undefined): Handle | undefined {
  const path = `loops.${name}.tuning`
  const rounded = (value: number) => Number(value.toPrecision(4))
  if (tuning.kind === requirement.name) return { path: `${path}.crossover`, valueAt: rounded }
  if (tuning.kind !== weights.name || crossover === undefined) return undefined
  const { most } = valuesOf(weights, tuning)
  return { path: `${path}.most`, valueAt: (w) => rounded(most * (w / crossover) ** weightPower) }
}

/** Why a rung without a handle stays where it is. */
function staysFor({ kind }: Part, handle: Handle | undefined): string | undefined {
  if (handle !== undefined) return undefined
  if (kind === typedGains.name) return 'its gains are typed'
  return kind === poleLocations.name ? 'its poles are placed' : 'its crossover follows from what it is designed by'
}

/** Slowest and fastest of the modes that a law with states makes, those of delays apart. */
function modesOf({ model, gains }: LoopDesign, { closedPoles, stable }: LoopAnalysis): readonly [number, number] | undefined {
  if (!stable || !model.law.signals.some((signal) => signal in gains)) return undefined
  const half = Math.PI / model.dt
  const paces = closedPoles.map((pole) => magnitude(continuousPole(pole, model.dt))).filter((pace) => pace > 0 && pace < half)
  return paces.length < 2 ? undefined : [Math.min(...paces), Math.max(...paces)]
}

/** How many times faster a loop is than the one that commands it. */
export interface Separation {
  readonly outer: Rung
  readonly inner: Rung
  readonly ratio: number
}

/** Common practice, no source: the inner loop at least three, better five times faster. */
export const enoughSeparation = 3
export const goodSeparation = 5

export function separations(rungs: readonly Rung[]): Separation[] {
  return rungs.flatMap((outer) => {
    const inner = rungs.find(({ name }) => name === outer.commands)
    if (inner?.crossover === undefined || outer.crossover === undefined) return []
    return [{ outer, inner, ratio: inner.crossover / outer.crossover }]
  })
}

/** How a loop's margin moves when all others of its machine close, rad. */
export interface MarginMove {
  readonly designed: number
  readonly together: number
}

/** rad: less is not worth a word */
const leastMove = (0.5 * Math.PI) / 180

/** By loop, where the margin moves by more than half a degree. */
export function movesOf(rungs: readonly Rung[], together: TogetherFigures | undefined): ReadonlyMap<string, MarginMove> {
  const channels = together?.channels ?? []
  return new Map(
    channels.flatMap(({ name, phaseMargin }): [string, MarginMove][] => {
      const designed = rungs.find((rung) => rung.name === name)?.phaseMargin
      if (designed === undefined || phaseMargin === undefined || Math.abs(phaseMargin - designed) < leastMove) return []
      return [[name, { designed, together: phaseMargin }]]
    }),
  )
}

export function moveWords({ designed, together }: MarginMove): string {
  const moved = ((together - designed) * 180) / Math.PI
  return `${moved < 0 ? '−' : '+'}${Math.abs(moved).toFixed(0)}°`
}

export function marginWords({ phaseMargin }: Rung): string {
  return phaseMargin === undefined ? '' : `${((phaseMargin * 180) / Math.PI).toFixed(0)}°`
}

export function rungsOf(document: Document, machine: string): Rung[] {
  const own = Object.entries(document.loops).filter(([, part]) => part.machine === machine)
  return own.map(([name, part]) => {
    const tuning = part.tuning as Part
    const known = { name, label: labelOf(part, name), commands: commandedLoop(part.pushes as string) }
    const design = designLoop(document, name)
    if (design.kind === 'refused') {
      const nothing = { crossover: undefined, phaseMargin: undefined, modes: undefined, stable: false, notLinear: false }
      const handle = handleOf(name, tuning, undefined)
      return { ...known, ...nothing, handle, stays: staysFor(tuning, handle) }
    }
    const analysis = analyse(design.value.model, design.value.gains)
    const { crossover, phaseMargin, stable, notLinear } = analysis
    const handle = handleOf(name, tuning, crossover)
    return {
      ...{ ...known, crossover, phaseMargin, stable, notLinear: notLinear !== undefined },
      ...{ handle, stays: staysFor(tuning, handle) },
      modes: modesOf(design.value, analysis),
    }
  })
}

/** What limits the chosen loop: half its rate, its delay and its plant's lags. */
export function factsOf(document: Document, loop: string): { name: string; value: string; w: number }[] {
  const part = document.loops[loop] as unknown as { rate: number; delay: number; machine: string }
  const slowest = lagOf(document.machines[part.machine]!)
  const held = (part.delay + 0.5) / part.rate
  return [
    { name: 'half rate', value: `${part.rate / 2} Hz`, w: Math.PI * part.rate },
    { name: 'late by', value: withUnit(held, 's', 2), w: 1 / held },
    ...(slowest > 0 ? [{ name: 'drive lag', value: withUnit(slowest, 's', 3), w: 1 / slowest }] : []),
  ]
}

/** s: that of the slowest of the drives that say one. */
function lagOf(machine: Part): number {
  const drives = [machine.rotors as Part | undefined, ...Object.values((machine.drives ?? {}) as Readonly<Record<string, Part>>)]
  return Math.max(0, ...drives.map((drive) => drive?.lag).filter((lag) => typeof lag === 'number'))
}

/** Label places at least 24 px apart, as near as may be to their rungs. */
export function spread(places: readonly { readonly name: string; readonly at: number }[]): Map<string, number> {
  const apart = 25
  const sorted = [...places].sort((a, b) => a.at - b.at).map((place) => ({ ...place }))
  for (let i = 1; i < sorted.length; i++) sorted[i]!.at = Math.max(sorted[i]!.at, sorted[i - 1]!.at + apart)
  return new Map(sorted.map(({ name, at }) => [name, at]))
}
