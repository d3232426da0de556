import { solve, identity } from '../algebra'
import { done, partsIn } from '../document'
import type { CuePart, Document, Outcome, Part, TrialPart } from '../document'
import { labelOf } from '../kinds'
import type { FindMesh } from '../machine'
import { lastCueEnd } from '../simulation'
import type { Candidate } from './candidates'
import { benchOf } from './fit'
import type { Bench, FitAsked } from './fit'

/** A cue that a trial could have besides, and how well it would tell two numbers apart. */
export interface SeparatingCue {
  readonly label: string
  /** What it would be in the trial, and how long that would have to go on after it. */
  readonly cue: Part
  readonly after: number
  /** Twice the standard deviation that would be left of the number, as a share of it: with this record and one with the cue. */
  readonly bound: number
}

export interface Separation {
  /** The same with this record alone; infinite where it tells nothing of the two apart. */
  readonly now: number
  /** Best first. */
  readonly cues: readonly SeparatingCue[]
}

/** s: after the last cue of the trial, and how long a run goes on after the one that is added. */
const [pause, lasting] = [1, 5]
/** Of the weight of the machine, a push that moves what it is on well but not away. */
const shareOfWeight = 0.15
/** Of what a loop was asked, or of 1 in its unit. */
const shareOfStep = 0.5
const mostLoops = 3
const leastTold = 1e-12

/**
 * Which cue would tell a number from another that the record shows only together with it. By slopes alone: the trial is run with
 * each cue as the model has it, and what both records would say is added up (information adds; R. A. Fisher; L. Ljung, System
 * Identification, 2nd ed., section 13.2). `beside` are the other numbers that are fitted, which stay free.
 */
export function cuesThatSeparate(
  asked: FitAsked,
  bench: Bench,
  pair: readonly [Candidate, Candidate],
  beside: readonly Candidate[],
  findMesh?: FindMesh,
): Outcome<Separation> {
  const free = [...pair, ...beside]
  const here = informationOf(bench, free)
  if (here === undefined) return done({ now: Infinity, cues: [] })
  const cues = cuesFor(asked.resolved, asked.trial).flatMap(({ label, cue, after }): SeparatingCue[] => {
    const trial = withCue(asked.resolved.trials[asked.trial]!, cue, after)
    const resolved = { ...asked.resolved, trials: { ...asked.resolved.trials, [asked.trial]: trial } } as Document
    const end = (cue.at as number) + lasting
    const made = benchOf({ ...asked, resolved, measured: asIfMeasured(bench, end), from: 0, to: end }, findMesh)
    const there = made.kind === 'refused' ? undefined : informationOf(made.value, free, bench)
    return there === undefined ? [] : [{ label, cue, after, bound: boundOf(sumOf(here, there)) }]
  })
  return done({ now: boundOf(here), cues: [...cues].sort((a, b) => a.bound - b.bound) })
}

/** What a record tells of numbers and of how late it is: sums of products of slopes, in relative changes and parts of noise. */
function informationOf(bench: Bench, free: readonly Candidate[], noisyAs: Bench = bench): number[][] | undefined {
  const slopes = bench.slopes(new Map(), 0, free)
  if (slopes === undefined) return undefined
  const each = slopes.late.length / bench.signals.length
  const noise = bench.signals.map(
    ({ name, noise: own }) => own / (noisyAs.signals.find((one) => one.name === name)?.noise ?? own),
  )
  const columns = [
    ...slopes.columns.map((column, i) => ({ column, scale: Math.abs(free[i]!.value) || 1 })),
    { column: slopes.late, scale: 1 },
  ]
  return columns.map((one) =>
    columns.map((other) => {
      let sum = 0
      for (let k = 0; k < one.column.length; k++) {
        const product = one.column[k]! * other.column[k]!
        if (!Number.isNaN(product)) sum += product * noise[Math.floor(k / each)]! ** 2
      }
      return sum * one.scale * other.scale
    }),
  )
}

function sumOf(a: number[][], b: number[][]): number[][] {
  return a.map((row, i) => row.map((value, j) => value + b[i]![j]!))
}

/** Twice the standard deviation of the first number, as a share of it. */
function boundOf(information: number[][]): number {
  const sizes = information.map((row, i) => Math.sqrt(row[i]!) || 1)
  const scaled = information.map((row, i) => row.map((value, j) => value / (sizes[i]! * sizes[j]!)))
  const inverse = solve(scaled, identity(scaled.length), leastTold)
  const variance = inverse === undefined ? Infinity : inverse[0]![0]! / sizes[0]! ** 2
  return variance > 0 ? 2 * Math.sqrt(variance) : Infinity
}

/** A record with the rows and signals of a bench, of a run that nobody has flown. */
function asIfMeasured({ signals, rate }: Bench, end: number): FitAsked['measured'] {
  const time = Float64Array.from({ length: Math.floor(end * rate) + 1 }, (_, k) => k / rate)
  const nothing = new Map(signals.map(({ name }) => [name, new Float64Array(time.length)]))
  return { time, signals: nothing, lanes: new Map(), gaps: [], step: 1 / rate, cautions: [] }
}

function withCue(trial: TrialPart, cue: Part, after: number): TrialPart {
  return { ...trial, cues: { ...trial.cues, separating: cue as CuePart }, after }
}

/** Cues that a trial of a machine could have besides: sharp steps of its loops, pushes, and a load that is taken up. */
function cuesFor(document: Document, trial: string): readonly Omit<SeparatingCue, 'bound'>[] {
  const part = document.trials[trial]!
  const machine = document.machines[part.machine]!
  const at = Number((lastCueEnd(part as never) + pause).toFixed(2))
  const after = lasting
  const asked = Object.values(partsIn(part.cues))
  const loops = Object.entries(document.loops).filter(([, loop]) => loop.machine === part.machine && loop.reference === 'cue')
  const steps = loops.slice(0, mostLoops).map(([loop, one]) => {
    const largest = Math.max(
      0,
      ...asked.flatMap((cue) => (cue.loop === loop && typeof cue.by === 'number' ? [Math.abs(cue.by)] : [])),
    )
    const by = Number((shareOfStep * (largest || 1)).toPrecision(2))
    return { label: `sharp step of ${labelOf(one, loop)}`, cue: { kind: 'stepCue', loop, at, by }, after }
  })
  const bodies = Object.entries(partsIn(machine.bodies)).filter(([, { mass }]) => typeof mass === 'number')
  const [heaviest] = [...bodies].sort(([, a], [, b]) => (b.mass as number) - (a.mass as number))
  if (heaviest === undefined) return steps
  const mass = bodies.reduce((sum, [, one]) => sum + (one.mass as number), 0)
  const force = Number((shareOfWeight * mass * 9.81).toPrecision(2))
  const [body, shown] = heaviest
  const push = (axis: 'x' | 'y' | 'z') => ({
    label: `push of ${force} N on ${labelOf(shown, body)} along ${axis}`,
    cue: {
      kind: 'pushCue',
      at,
      over: 3,
      body,
      shape: 'steady',
      axes: 'world',
      px: 0,
      py: 0,
      pz: 0,
      x: 0,
      y: 0,
      z: 0,
      [axis]: force,
    },
    after: after - 3,
  })
  const taken = Number((shareOfWeight * mass).toPrecision(2))
  const load = {
    label: `${labelOf(shown, body)} takes up ${taken} kg`,
    cue: { kind: 'changeCue', at, number: `bodies.${body}.mass`, how: 'raised', amount: taken, over: 0.2 },
    after,
  }
  return [...steps, push('x'), push('y'), push('z'), load]
}
