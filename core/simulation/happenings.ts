import { add, and, atMost, less, min, not, or, select, sub } from '../expression'
import type { Assignment, Flag, NumberNode, Scalar } from '../expression'
import { wrapped } from '../algebra'
import { findAt, partsIn, replaceAt } from '../document'
import type { Document, Part, Problem } from '../document'
import { parseCondition } from '../formula'
import { findHeld } from '../machine'
import type { Read } from '../machine'
import { bendsOf, cueAt, fades, mixed, never, playedCues } from './cues'
import type { Awaited, PlayedCue } from './cues'
import type { Drives } from './driven'
import { slotOf } from './layout'
import type { Layout } from './layout'
import { normalPair } from './noise'
import { errorLoop, isClearance } from './signals'

/** Streams of noise that lie beside those of sensors and estimators. */
const firstStream = 1_048_576

/** What stands for a 0 that a cue changes: nothing folds away, and nothing else comes of it. */
const nearlyNothing = Number.MIN_VALUE

/** Gives a node its value at every sample, and before the first. */
export type Put = (node: NumberNode, value: Scalar, first: Scalar) => void

interface Trigger {
  readonly awaited: Awaited
  /** s: when it came. */
  readonly came: NumberNode
  /** Whether the condition held at the last tick, and since when, s. */
  readonly running: NumberNode
  readonly since: NumberNode
}

/** What is read of a run that goes on: a signal as it was when the tick began. */
interface Seen {
  readonly name: string
  readonly node: NumberNode
  readonly where: string
}

interface HappeningsContext {
  readonly document: Document
  readonly trial: string
  readonly layout: Layout
  readonly parameter: (path: string, value: number) => NumberNode
  /** s */
  readonly time: Scalar
  readonly tick: NumberNode
  readonly seed: Scalar
  /** Where a hand is that cues wait for: 1 where it is pressed. */
  readonly pressed: (hand: string) => Scalar
}

/** Everything that happens in a trial besides what its loops do: when it comes, and what it does to machine and signals. */
export class Happenings {
  readonly played: readonly PlayedCue[]
  private readonly triggers: Trigger[] = []
  private readonly seen = new Map<string, Seen>()
  private readonly where: string

  constructor(private readonly context: HappeningsContext) {
    const { document, trial, layout, parameter } = context
    this.where = `trials.${trial}.cues`
    this.played = playedCues(document.trials[trial]!, parameter, (awaited) => {
      const [came, running, since] = layout.many(3) as [NumberNode, NumberNode, NumberNode]
      this.triggers.push({ awaited, came, running, since })
      // what begins once more has not ended since
      return awaited.slot === 'until' ? select(less(came, awaited.from), never, came) : came
    })
  }

  get seed(): Scalar {
    return this.context.seed
  }

  /** Cues that act on the machine itself, between ticks too. */
  private get acting(): readonly PlayedCue[] {
    return this.played.filter(({ kind }) => kind.changes !== undefined || kind.adds !== undefined)
  }

  /** rad/s: how fast what acts on the machine swings between those times. */
  get swings(): number {
    return Math.max(0, ...this.acting.map(({ kind, part }) => kind.adds?.(part).swings ?? 0))
  }

  /** The simulated machine with what cues add to it: numbers that they drive are nowhere structure, though they be 0. */
  machine(truly: Part): Part {
    const added = this.acting.reduce((machine, cue) => {
      const adds = cue.kind.adds?.(cue.part)
      return adds === undefined ? machine : replaceAt(machine, this.pathOf(cue, machine), adds.part)
    }, truly)
    return this.changes.reduce((machine, { path }) => {
      const was = findAt(machine, path)
      if (was === undefined) return path.endsWith('.gives') ? replaceAt(machine, path, 1) : machine
      return was === 0 ? replaceAt(machine, path, nearlyNothing) : machine
    }, added)
  }

  private get changes() {
    return this.acting.flatMap((cue) => (cue.kind.changes?.(cue.part) ?? []).map((change) => ({ ...change, cue })))
  }

  /** Where the machine has what a cue adds: by the name of the cue, unless something else has it. */
  private pathOf({ name, kind, part }: PlayedCue, machine: Part): string {
    const { group } = kind.adds!(part)
    const others = partsIn((machine as Readonly<Record<string, unknown>>)[group] as never)
    return `${group}.${name in others ? `${name}Cue` : name}`
  }

  /** What cues do to numbers of the simulated machine, which are otherwise those of `truth`; nothing where they do nothing. */
  drives(truly: Part, truth: Read): Drives | undefined {
    if (this.acting.length === 0) return undefined
    const numbers = new Map<string, (t: Scalar) => Scalar>()
    for (const { path, value, cue } of this.changes) {
      const before = numbers.get(path) ?? (() => (path.endsWith('.gives') ? 1 : truth(path)))
      numbers.set(path, (t) => {
        const [was, now] = [before(t), cueAt(cue, t)]
        return mixed(now.share, was, value(was, now))
      })
    }
    for (const cue of this.acting) {
      const adds = cue.kind.adds?.(cue.part)
      if (adds === undefined) continue
      const path = this.pathOf(cue, truly)
      for (const [place, value] of Object.entries(adds.numbers)) numbers.set(`${path}.${place}`, (t) => value(cueAt(cue, t)))
    }
    const bends = this.acting.flatMap(bendsOf)
    const moves = this.acting.flatMap(movesOf)
    return {
      numbers,
      bendAfter: (t) => bends.reduce<Scalar>((first, at) => min(first, select(less(t, at), at, never)), never),
      movesAt: (t) => moves.reduce<Flag>((any, [from, to]) => or(any, and(atMost(from, t), less(t, to))), false),
    }
  }

  /** Whether anything is done to a signal. */
  isAltered(signal: string): boolean {
    return this.faultsOf(signal).length > 0
  }

  private faultsOf(signal: string): readonly PlayedCue[] {
    return this.played.filter(({ kind, part }) => kind.alters !== undefined && part.signal === signal)
  }

  /** A signal as those get it who read it, sampled every `dt` s; faults follow one another as they stand. */
  altered(signal: string, value: Scalar, dt: number, start: Scalar, put: Put): Scalar {
    const { time, layout } = this.context
    return this.faultsOf(signal).reduce((given, cue) => {
      const { kind, part, name, begins, over, cut } = cue
      const alters = kind.alters!
      const memory = layout.many(alters.memory?.(part, dt) ?? 0)
      const now = cueAt(cue, time)
      const isOn = and(atMost(begins, time), cut === undefined ? true : less(time, over))
      const changed = alters.step(
        {
          ...now,
          ...{ value: given, memory, dt, isOn },
          random: () => this.random(cue),
          signal: (one) => this.signal(one, `${this.where}.${name}.formula`),
        },
        part,
      )
      memory.forEach((node, i) => put(node, changed.memory![i]!, start))
      return mixed(now.share, given, changed.value)
    }, value)
  }

  private random(cue: PlayedCue): Scalar {
    const { seed, tick } = this.context
    return normalPair(seed, firstStream + this.played.indexOf(cue), tick)[0]
  }

  private signal(name: string, where: string): Scalar {
    const known = this.seen.get(name) ?? { name, where, node: this.context.layout.one() }
    this.seen.set(name, known)
    return known.node
  }

  /** What is looked at when a tick begins, before anything is sampled, from the signals of the run; or what it lacks. */
  judged(
    columns: ReadonlyMap<string, Scalar>,
    stale: Assignment | undefined,
  ): { readonly values: Assignment[]; readonly problems: Problem[] } {
    const { time, document, trial } = this.context
    const problems: Problem[] = []
    const lookup = (where: string) => (name: string) => {
      const value = columnOf(document, trial, columns, name)
      if (value !== undefined) return value
      const isLater = isClearance(name)
      problems.push({
        where,
        what: isLater ? 'The clearance is known once a run has ended.' : `The run has no signal named ${name}.`,
        remedy: isLater
          ? 'Give the machine a reading of a clearance: that is known at every moment. Checks may look at this one.'
          : 'Choose one of its signals, such as those that a run of the trial shows.',
      })
      return 0
    }
    const values = [...this.seen.values()].map(({ name, node, where }) => ({ slot: slotOf(node), value: lookup(where)(name) }))
    let any: Flag = false
    for (const { awaited, came, running, since } of this.triggers) {
      const where = `${this.where}.${awaited.cue}.${awaited.slot}.condition`
      const read = awaited.condition === undefined ? undefined : parseCondition(awaited.condition)
      if (read?.kind === 'wrong') continue // told by the check of the document
      const holds = read === undefined ? this.isSo(awaited) : read.condition.holds(lookup(where), less(0.5, running))
      const began = select(holds, min(since, time), never)
      const lasted = and(holds, atMost(add(began, read?.condition.lasting ?? 0), add(time, slack)))
      // a hand is pressed again and again; all else counts when it is so for the first time since
      const isAgain = awaited.hand !== undefined && awaited.slot === 'waits'
      const isDone = isAgain ? less(0.5, running) : and(atMost(awaited.from, came), less(came, never))
      const comes = and(and(lasted, atMost(awaited.from, time)), not(isDone))
      any = or(any, comes)
      values.push(
        { slot: slotOf(came), value: select(comes, time, came) },
        { slot: slotOf(running), value: select(holds, 1, 0) },
        { slot: slotOf(since), value: began },
      )
    }
    if (stale !== undefined)
      values.push({ slot: stale.slot, value: select(any, stale.value, this.context.layout.graph.slot(stale.slot)) })
    return { values, problems }
  }

  /** Whether a hand is pressed, or let go. */
  private isSo({ slot, hand }: Awaited): Flag {
    const pressed = less(0.5, this.context.pressed(hand!))
    return slot === 'waits' ? pressed : not(pressed)
  }

  /** What memory starts with. */
  get initial(): Assignment[] {
    return [
      ...this.triggers.flatMap(({ came, running, since }) => [
        { slot: slotOf(came), value: never },
        { slot: slotOf(running), value: 0 },
        { slot: slotOf(since), value: never },
      ]),
      ...[...this.seen.values()].map(({ node }) => ({ slot: slotOf(node), value: 0 })),
    ]
  }
}

/** s: from when to when what a cue does changes all the time. */
function movesOf({ kind, part, read, begins, cut }: PlayedCue): readonly (readonly [from: Scalar, to: Scalar])[] {
  if (kind.changes?.(part).some(({ goesOn }) => goesOn) === true) return [[begins, never]]
  if (kind.adds?.(part).swings === 0 || !('over' in kind.slots)) return []
  const all = [begins, ...(cut === undefined || !fades(kind) ? [] : [cut])]
  return all.map((from) => [from, add(from, read('over'))] as const)
}

/** s: rounding of times that are whole ticks. */
const slack = 1e-9

/** A signal of the run by its name, with or without that of the machine; the error of a loop is reference less what it holds. */
function columnOf(document: Document, trial: string, columns: ReadonlyMap<string, Scalar>, name: string): Scalar | undefined {
  if (isClearance(name)) return undefined
  const loop = document.loops[errorLoop(name) ?? '']
  const [reference, held] = [columns.get(`loops.${errorLoop(name)}.reference`), columns.get(`${loop?.machine}.${loop?.holds}`)]
  if (loop !== undefined && reference !== undefined && held !== undefined) {
    const error = sub(reference, held)
    return findHeld(document.machines[loop.machine]!, loop.holds)?.angle === 'goesRound' ? wrapped(error) : error
  }
  return columns.get(name) ?? columns.get(`${document.trials[trial]!.machine}.${name}`)
}
