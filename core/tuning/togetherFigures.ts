import { complex, overComplex } from '../algebra'
import type { Complex } from '../algebra'
import { commandedLoop, lawOf, linearEyes, seenBy } from '../control'
import type { LinearEstimator } from '../control'
import { atan2 } from '../expression'
import { done } from '../document'
import type { Document, Outcome, Part } from '../document'
import {
  channelGain,
  channelMargins,
  complexSingularValues,
  frequencyGrid,
  inScales,
  margins,
  remembering,
  sensitivityOf,
  simultaneousMargin,
} from '../linear'
import type { FrequencyFunction, Margins, SimultaneousMargin } from '../linear'
import { closedNames } from './design'
import type { LoopValues } from './loopModel'
import { isReadAs } from './sight'
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
    const gains = complexSingularValues(inScales(l, scales))
    const [most, mostOther] = [s, t].map((m) => complexSingularValues(inScales(m, scales))[0]!) as [number, number]
    return [{ w, gain: [gains[0]!, gains.at(-1)!], sensitivity: most, complementary: mostOther }]
  })
  const channels = channelMargins(gain, cuts.length, looked).map((margins, i) =>
    channelFigures(cuts[i]!, upTo(margins, tops[i]!)),
  )
  return done({ loops, still, stable, channels, atOnce, curve })
}

/** What a loop has in hand with what it estimates, and whether it is stable then. */
export interface EstimatedMargins extends ChannelFigures {
  readonly stable: boolean
  /** rad: the least turn of phase either way that brings it to the edge; nothing where its gain crosses 1 nowhere */
  readonly leastPhase: number | undefined
}

/**
 * What a loop has in hand with the estimators and late sensors that it, and the loops closed while it is designed, read: its
 * own margins take what they read for the truth. Meant for loops that are stable by those. Nothing where none of them reads
 * such a one, or where there is no answer.
 */
export function estimatedMargins(document: Document, name: string): EstimatedMargins | undefined {
  const machine = document.loops[name]!.machine as string
  const names = new Set([...closedNames(document, name), name])
  const kept = Object.entries(document.loops).filter(([one]) => names.has(one))
  const eyes = linearEyes(document, machine)
  const seen = (loop: Part) => seenBy(document.machines[machine]!, loop.holds as string, lawOf(loop).signals)
  const isRead = (loop: Part, eye: LinearEstimator) =>
    isReadAs(eye, loop.reads as LoopValues['reads']) && seen(loop).some((one) => eye.estimated.includes(one))
  if (!kept.some(([, loop]) => eyes.some((eye) => isRead(loop, eye)))) return undefined
  const alone = (more: object) => ({
    ...document,
    loops: Object.fromEntries(kept.map(([one, loop]) => [one, { ...loop, closed: true, ...more }])),
  })
  const [opened, bare] = [openedAlone(alone({}), name), openedAlone(alone({ reads: 'true' }), name)]
  if (opened === undefined || bare === undefined) return undefined
  const grid = frequencyGrid(opened.top / 1e5, opened.top).filter((_, i) => i % everyLooked === 0)
  const figures = channelFigures(name, upTo(margins(opened.gain, grid), opened.top))
  const leastPhase = least(figures.margins.phase.map(({ margin }) => Math.abs(margin)))
  return { ...figures, leastPhase, stable: opened.stable ?? turnsLike(opened.gain, bare.gain, grid) }
}

interface OpenedAlone {
  readonly gain: FrequencyFunction
  readonly top: number
  /** By the exact map, where there is one. */
  readonly stable: boolean | undefined
}

function openedAlone(document: Document, name: string): OpenedAlone | undefined {
  const together = loopsTogether(document, document.loops[name]!.machine as string)
  if (together.kind === 'refused') return undefined
  // an observer knows what was asked of the machine, not what the machine made of it: opened behind the observer
  const pushes = document.loops[name]!.pushes as string
  const [cut, at] = commandedLoop(pushes) === undefined ? (['pushes', pushes] as const) : (['commands', name] as const)
  const { cuts, tops, gain } = together.value.opened(cut)
  const channel = cuts.indexOf(at)
  return channel < 0
    ? undefined
    : { gain: channelGain(remembering(gain), channel), top: tops[channel]!, stable: together.value.stable }
}

/** Halvings of a step of frequency in which the plane turns too far to follow. */
const mostHalvings = 12

/**
 * Whether 1 + L turns about the origin as often as that of a loop that is stable: then this one is too, as what stands
 * between them is stable by itself (Nyquist, Bell System Technical Journal 11, 1932).
 */
function turnsLike(loop: FrequencyFunction, stable: FrequencyFunction, grid: readonly number[]): boolean {
  const ratio = (w: number): Complex | undefined => {
    const [l, s] = [loop(w), stable(w)]
    return l === undefined || s === undefined ? undefined : overComplex(complex(1 + l.re, l.im), complex(1 + s.re, s.im))
  }
  const turned = (from: number, to: number, a: Complex, b: Complex, depth: number): number => {
    const { re, im } = overComplex(b, a)
    const angle = atan2(im, re) as number
    if (Math.abs(angle) < 1 || depth === 0) return angle
    const middle = Math.sqrt(from * to)
    const between = ratio(middle)
    return between === undefined ? angle : turned(from, middle, a, between, depth - 1) + turned(middle, to, between, b, depth - 1)
  }
  let total = 0
  let before: { readonly w: number; readonly value: Complex } | undefined
  for (const w of grid) {
    const value = ratio(w)
    if (value === undefined) continue
    if (before !== undefined) total += turned(before.w, w, before.value, value, mostHalvings)
    before = { w, value }
  }
  return Math.abs(total) < Math.PI / 2
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
