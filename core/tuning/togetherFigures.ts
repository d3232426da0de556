import { complex } from '../algebra'
import { done } from '../document'
import type { Document, Outcome } from '../document'
import {
  channelMargins,
  complexSingularValues,
  frequencyGrid,
  inComplexScales,
  remembering,
  sensitivityOf,
  simultaneousMargin,
} from '../linear'
import type { Margins, SimultaneousMargin } from '../linear'
import { loopsTogether } from './together'
import type { Cut, LoopsTogether } from './together'

/** A channel opened alone, and what it has in hand there. */
export interface ChannelFigures {
  readonly name: string
  readonly margins: Margins
  /** The first gain crossing, and the least change of gain either way that brings it to the edge. */
  readonly crossover: number | undefined
  readonly phaseMargin: number | undefined
  readonly up: number | undefined
  readonly down: number | undefined
  /** s: the least extra delay */
  readonly delay: number | undefined
}

/** Largest singular values over frequency, and of the loop gain the smallest too. */
export interface SingularPoint {
  readonly w: number
  readonly gain: readonly [largest: number, smallest: number]
  readonly sensitivity: number
  readonly complementary: number
}

export interface TogetherFigures extends Pick<LoopsTogether, 'loops' | 'still' | 'stable'> {
  readonly channels: readonly ChannelFigures[]
  /** Of all channels at once; nothing where the loops are not known to be stable together. */
  readonly atOnce: SimultaneousMargin | undefined
  /** Each channel in its scale of `atOnce`, so that units do not matter. */
  readonly curve: readonly SingularPoint[]
}

/** Points of the grid of `margins` that are looked at, and drawn. */
const everyLooked = 2
const everyDrawn = 4

/** The margins of all loops of a machine, one at a time and at once, and their singular values. */
export function togetherFigures(document: Document, machine: string, cut: Cut): Outcome<TogetherFigures> {
  const together = loopsTogether(document, machine)
  if (together.kind === 'refused') return together
  const { loops, still, stable, top, opened } = together.value
  const { cuts, tops, gain: worked } = opened(cut)
  const gain = remembering(worked)
  const grid = frequencyGrid(top / 1e5, top)
  const looked = grid.filter((_, i) => i % everyLooked === 0)
  const atOnce = stable === true ? simultaneousMargin(gain, cuts.length, looked) : undefined
  const scales = atOnce?.scales ?? cuts.map(() => 1)
  const sensitivity = sensitivityOf(gain)
  const curve = grid.flatMap((w, i): SingularPoint[] => {
    if (i % everyDrawn !== 0) return []
    const [l, s] = [gain(w), sensitivity(w)]
    if (l === undefined || s === undefined) return []
    const t = s.map((row, k) => row.map(({ re, im }, j) => complex((k === j ? 1 : 0) - re, -im)))
    const gains = complexSingularValues(inComplexScales(l, scales))
    const [most, mostOther] = [s, t].map((m) => complexSingularValues(inComplexScales(m, scales))[0]!) as [number, number]
    return [{ w, gain: [gains[0]!, gains.at(-1)!], sensitivity: most, complementary: mostOther }]
  })
  const channels = channelMargins(gain, cuts.length, looked).map((margins, i) =>
    channelFigures(cuts[i]!, upTo(margins, tops[i]!)),
  )
  return done({ loops, still, stable, channels, atOnce, curve })
}

/** What lies above half of its own rate says nothing of a loop. */
function upTo({ gain, phase, ...margins }: Margins, top: number): Margins {
  return { ...margins, gain: gain.filter(({ w }) => w < top), phase: phase.filter(({ w }) => w < top) }
}

function channelFigures(name: string, margins: Margins): ChannelFigures {
  const factors = margins.gain.map(({ factor }) => factor)
  const first = margins.phase[0]
  const below = factors.filter((factor) => factor < 1)
  return {
    ...{ name, margins, crossover: first?.w, phaseMargin: first?.margin },
    up: least(factors.filter((factor) => factor > 1)),
    down: below.length === 0 ? undefined : Math.max(...below),
    delay: least(margins.phase.map(({ delay }) => delay)),
  }
}

function least(values: readonly number[]): number | undefined {
  return values.length === 0 ? undefined : Math.min(...values)
}
