import { findAt, partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import type { TogetherFigures } from '@calm-hand/core/tuning'
import type { Handle, Rung } from '../../../compute/loops/rungs'
import { withUnit } from '../../../units'

/** What a rung dragged to w rad/s sets. */
export function valueAt({ scale, power }: Handle, w: number): number {
  return Number((scale * w ** power).toPrecision(4))
}

/** rad/s: where a rung is asked to stand by what a document says; nothing where that is a formula. */
export function askedAt(document: Document | undefined, { path, scale, power }: Handle): number | undefined {
  const value = findAt(document, path)
  return typeof value === 'number' ? (value / scale) ** (1 / power) : undefined
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

/** Something that limits a loop. */
export interface Fact {
  readonly name: string
  readonly value: string
  /** rad/s */
  readonly w: number
}

/** What limits the chosen loop: half its rate, its delay and its plant's lags. */
export function factsOf(document: Document, loop: string): Fact[] {
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
  const drives = [machine.rotors as Part | undefined, ...Object.values(partsIn(machine.drives))]
  return Math.max(0, ...drives.map((drive) => drive?.lag).filter((lag) => typeof lag === 'number'))
}

/** Label places at least 24 px apart, as near as may be to their rungs. */
export function setApart(places: readonly { readonly name: string; readonly at: number }[]): ReadonlyMap<string, number> {
  const apart = 25
  const sorted = [...places].sort((a, b) => a.at - b.at).map((place) => ({ ...place }))
  for (let i = 1; i < sorted.length; i++) sorted[i]!.at = Math.max(sorted[i]!.at, sorted[i - 1]!.at + apart)
  return new Map(sorted.map(({ name, at }) => [name, at]))
}
