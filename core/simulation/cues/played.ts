import { add, atMost, clamp, div, less, max, mul, select, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { partsIn } from '../../document'
import type { Part } from '../../document'
import { everyNumber, findKind } from '../../kinds'
import { fade } from './cue'
import type { Cue, CueNow, ReadCue } from './cue'
import { lastsOf, waitsOf } from './times'

/** s: the time of what has not come; no trial lasts so long. */
export const never = 1e9

/** Where a number of the document comes from: itself, or memory of a program. */
export type Remember = (path: string, value: number) => Scalar

/** Something that a cue waits for that no clock tells: a condition, or a hand that is pressed or let go. */
export interface Awaited {
  readonly cue: string
  readonly slot: 'waits' | 'until'
  readonly condition?: string
  readonly hand?: string
  /** s: it counts from then on. */
  readonly from: Scalar
}

/** When what a cue waits for has come, s, or `never`. */
export type CameAt = (awaited: Awaited) => Scalar

/** A cue of a trial with its times. */
export interface PlayedCue {
  readonly name: string
  readonly kind: Cue
  readonly part: Part
  /** Its numbers; `at` is when it begins. */
  readonly read: ReadCue
  /** s: when it begins, and when it is over. */
  readonly begins: Scalar
  readonly over: Scalar
  /** s: when something ends it that is not its own end. */
  readonly cut: Scalar | undefined
}

/** The cues of a trial with their times: those that wait for a condition come when `came` says. */
export function playedCues(trial: Part, keep: Remember, came: CameAt = () => never, kinds: readonly Cue[]): readonly PlayedCue[] {
  const parts = partsIn(trial.cues)
  const known = new Map<string, PlayedCue>()
  const open = new Set<string>()
  const edgeOf = (cue: string, edge: 'begins' | 'ends'): Scalar => {
    const other = open.has(cue) ? undefined : play(cue)
    return other === undefined ? never : edge === 'begins' ? other.begins : other.over
  }
  const awaited = (cue: string, slot: 'waits' | 'until', from: Scalar): Scalar | undefined => {
    const waits = waitsOf(parts[cue]![slot] as Part | undefined)
    if (waits === undefined) return undefined
    if (waits.cue !== undefined) return edgeOf(waits.cue, waits.edge)
    const { condition, hand } = waits
    return came({ cue, slot, from, ...(condition === undefined ? { hand: hand! } : { condition }) })
  }
  const play = (name: string): PlayedCue | undefined => {
    const part = parts[name]
    const kind = part === undefined ? undefined : findKind(kinds, part)
    if (part === undefined || kind === undefined || known.has(name)) return known.get(name)
    open.add(name)
    // the many points of a touch are given to a run as they come
    const numbers = everyNumber(kinds, part).filter(({ path }) => kind.lane !== 'hands' || path === 'at')
    const kept = new Map(numbers.map(({ path, value }) => [path, keep(`cues.${name}.${path}`, value)]))
    const from = awaited(name, 'waits', 0)
    const begins = from === undefined ? kept.get('at')! : add(from, kept.get('at')!)
    const read = (path: string) => (path === 'at' ? begins : kept.get(path)!)
    const lasts = lastsOf(part.until as Part | undefined) === undefined ? undefined : add(begins, kept.get('until.time')!)
    const cut = lasts ?? awaited(name, 'until', begins)
    const over = cut === undefined ? kind.ends(read, part) : fades(kind) ? add(cut, kept.get('over')!) : cut
    open.delete(name)
    const played = { name, kind, part, read, begins, over, cut }
    known.set(name, played)
    return played
  }
  return Object.keys(parts).flatMap((name) => play(name) ?? [])
}

/** Whether a cue comes in and goes over a time. */
export function fades(kind: Cue): boolean {
  return kind.slots.over === fade
}

/** A cue at time t, s. */
export function cueAt({ kind, read, begins, cut }: PlayedCue, t: Scalar): CueNow {
  const over = fades(kind) ? read('over') : 0
  const gone = cut === undefined ? 0 : come(t, cut, over)
  return { t, since: sub(t, begins), share: mul(come(t, begins, over), sub(1, gone)), read }
}

/** s: the times at which what a cue does jumps or bends. */
export function bendsOf({ kind, read, begins, cut }: PlayedCue): readonly Scalar[] {
  const over = 'over' in kind.slots ? [read('over')] : []
  const all = [begins, ...over.map((time) => add(begins, time))]
  return cut === undefined ? all : [...all, cut, ...(fades(kind) ? [add(cut, read('over'))] : [])]
}

/** 0 before a time, 1 from then on, or from `over` later on with a straight line between. */
function come(t: Scalar, at: Scalar, over: Scalar): Scalar {
  const step = select(atMost(at, t), 1, 0)
  if (over === 0) return step
  return select(less(0, over), clamp(div(sub(t, at), max(over, shortest)), 0, 1), step)
}

const shortest = 1e-9

/** One number turning into another: exactly either at the ends. */
export function mixed(share: Scalar, from: Scalar, to: Scalar): Scalar {
  const between = add(from, mul(share, sub(to, from)))
  return select(atMost(1, share), to, select(less(0, share), between, from))
}
