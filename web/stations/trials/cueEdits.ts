import { asCued } from '@calm-hand/core/control'
import { partsIn, replaceAt } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { blankPart } from '@calm-hand/core/kinds'
import { bodiesOf, effectParts, isBodiless, pushesOf } from '@calm-hand/core/machine'
import { alterableSignals, changingNumbers } from '@calm-hand/core/simulation'
import type { Cue } from '@calm-hand/core/simulation'
import { addPart } from '../../state/edits'
import type { Edit } from '../../state/edits'
import { freeName } from '../machine/partEdits'
import type { Added } from '../machine/partEdits'
import type { TrialView } from './useTrialView'

/** A cue that asks for something at once: of what is looked at, a little after the last one. */
export function addCue(
  document: Document,
  view: Pick<TrialView, 'trial' | 'held' | 'machine' | 'machineName'>,
  kind: Cue,
): Added {
  const cues = partsIn(document.trials[view.trial]!.cues)
  const name = freeName(Object.keys(cues), kind.name.replace(/(Cue|Fault)$/, ''))
  const part = blankPart(kind, { at: nextTime(cues), ...firstSlots(document, view, kind, cues) })
  return { name, change: addPart(`trials.${view.trial}.cues.${name}`, part, `Add a ${kind.label}`) }
}

/** s between a cue and the one that is added after it. */
const apart = 2

function nextTime(cues: Readonly<Record<string, Part>>): number {
  return Math.max(1, ...Object.values(cues).map(({ at }) => (typeof at === 'number' ? at : 0) + apart))
}

/** A push as strong as gives a body this acceleration, m/s², and a blow that gives it this speed, m/s. */
const [pushed, blown] = [1, 0.5]

function firstSlots(
  document: Document,
  { held, machine, machineName }: Pick<TrialView, 'held' | 'machine' | 'machineName'>,
  kind: Cue,
  cues: Readonly<Record<string, Part>>,
): Readonly<Record<string, unknown>> {
  if (kind.lane === 'commands') {
    // as far as the last one went: a lens floats by millimetres, a lifter by metres
    const last = Object.values(cues).findLast(({ by }) => typeof by === 'number')
    return { loop: (last?.loop as string | undefined) ?? firstTarget(held, machine), by: last?.by ?? 0.5 }
  }
  const parts = isBodiless(machine) ? [] : effectParts(machine).map(({ path }) => path)
  const part = parts.findLast((path) => path.startsWith('drives.')) ?? parts[0] ?? ''
  const signal = alterableSignals(document, machineName)[0]?.name ?? ''
  const [body, mass] = heaviest(machine)
  const [number, amount] = isBodiless(machine) ? [changingNumbers(machine)[0]?.path ?? '', 1.2] : [`bodies.${body}.mass`, 1.2]
  const x = Number(
    ((kind.slots.x as { unit?: string } | undefined)?.unit === 'N·s' ? blown * mass : pushed * mass).toPrecision(2),
  )
  const size = kind.name === 'gustCue' ? { x: 3, over: 2 } : { x, over: kind.name === 'impulseCue' ? 0.02 : 0.5 }
  // a tenth of what was asked last: an error that shows
  const small = Math.abs(Number(Object.values(cues).findLast(({ by }) => typeof by === 'number')?.by ?? 1)) / 10
  const sizes = { by: small, rate: small / 2, deviation: small / 2, step: small, least: -small, most: small }
  return { ...sizes, part, loss: 0.35, signal, body, number, amount, how: 'times', formula: 'value', ...size }
}

function firstTarget(held: TrialView['held'], machine: Part): string {
  return held !== undefined && !held.isCommanded ? held.loop : asCued(pushesOf(machine)[0]?.name ?? '')
}

/** The heaviest body that moves, and its mass, kg. */
function heaviest(machine: Part): readonly [body: string, mass: number] {
  if (isBodiless(machine)) return ['', 1]
  const bodies = Object.entries(bodiesOf(machine))
    .filter(([, body]) => (body as unknown as { joint?: Part }).joint?.kind !== 'fixed')
    .map(([name, body]) => [name, Number((body as unknown as { mass?: unknown }).mass ?? 0)] as const)
  return bodies.reduce((a, b) => (b[1] > a[1] ? b : a), ['', 0] as readonly [string, number])
}

/** The same cue once more, a little later. */
export function copyCue(document: Document, trial: string, key: string): Added {
  const cues = partsIn(document.trials[trial]!.cues)
  const name = freeName(Object.keys(cues), key.replace(/\d+$/, ''))
  const cue = cues[key]!
  const later = typeof cue.at === 'number' ? { ...cue, at: Number((cue.at + apart / 2).toFixed(6)) } : cue
  return { name, change: addPart(`trials.${trial}.cues.${name}`, later, `Copy the cue ${key}`) }
}

/** What a cue may wait for, or end with, as a person chooses it. */
export const begins = {
  clock: 'comes by the clock',
  whenHolds: 'comes on a condition',
  afterCue: 'comes after another cue',
  whenPressed: 'comes when a hand is pressed',
}
export const ends = {
  itself: 'ends by itself',
  lasting: 'ends after a time',
  untilHolds: 'ends on a condition',
  untilCue: 'ends with another cue',
  untilLetGo: 'ends when a hand lets go',
}

/** What a cue may wait for first: another cue, a hand that is pressed, a signal. */
export interface Awaitable {
  readonly others: readonly string[]
  readonly pressed: readonly string[]
  readonly signal: string
}

/** Lets a cue wait for something else, with a first thing to wait for. */
export function waitFor(path: string, slot: 'waits' | 'until', kind: string, { others, pressed, signal }: Awaitable): Edit {
  const parts: Readonly<Record<string, Part>> = {
    whenHolds: { kind, condition: `${signal} > 0` },
    untilHolds: { kind, condition: `${signal} < 0` },
    afterCue: { kind, cue: others[0] ?? '' },
    untilCue: { kind, cue: others[0] ?? '' },
    whenPressed: { kind, hand: pressed[0] ?? '' },
    untilLetGo: { kind, hand: pressed[0] ?? '' },
    lasting: { kind, time: 1 },
  }
  const label = slot === 'waits' ? 'Set when a cue comes' : 'Set when a cue ends'
  return { label, apply: (document) => replaceAt(document, `${path}.${slot}`, parts[kind]) }
}
