import { complex, identity, magnitude, multiply, norm, plusMatrix, times, transpose, zeros } from '../../algebra'
import type { Complex, Matrix } from '../../algebra'
import { add, cos, exp, mul, sin, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'
import { assert, done, nameRemedy, partHash, partsIn, refusedFor, remembered } from '../../document'
import type { Outcome, Part, Problem } from '../../document'
import { choice, name, number, partOf, parts, valuesOf } from '../../kinds'
import type { Kind } from '../../kinds'
import {
  answersAtOnce,
  between,
  minimalRealization,
  names,
  observable,
  observer,
  placePoles,
  sampledWithHold,
} from '../../linear'
import type { StateSpace } from '../../linear'
import { designLayers, findHeld, heldQuantities, measuringSensors, shortName } from '../../machine'
import { upperTriangle, packedSize, predicted, fromUpperTriangle, updated } from '../kalman'
import type { ScalarMatrix } from '../kalman'
import { whereItTurns } from '../operatingPoint'
import { linearMachine } from '../plant'
import type { EstimatorContext, EstimatorRun } from './estimator'
import { innovation } from './inertial'
import { defineEstimator } from './estimator'

/** A signal that an observer reads. */
export const observedSignal = {
  name: 'observedSignal',
  says: '{signal} with noise of {noise}',
  about: 'A quantity of the machine as a sensor gives it at every sample: with white noise while sensors err, exactly otherwise.',
  slots: {
    signal: name({ label: 'signal', of: 'held' }),
    noise: number({ label: 'noise', unit: '', above: 0, note: 'standard deviation' }),
  },
} as const satisfies Kind

/** A Kalman filter of the linear machine, or an observer with gains that put its poles. */
export const observerKind = defineEstimator({
  name: 'observer',
  label: 'observer',
  says: 'estimates everything that moves, {rate#} times a second, with {gains}',
  about:
    'x = A x + B u + M (y - C x) at every sample, with the linear machine about its operating point. Its gains are the steady ones for disturbances of its pushes and noise of what is read, or those of each moment as its uncertainty goes down from the start, or such that all its errors die out at one pace (poles on a half circle). Anderson & Moore, Optimal Filtering, 1979 (from memory). What nothing read shows, and what does not die out by itself, is not estimated.',
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    rate: number({ label: 'rate', unit: 'Hz', above: 0, most: 10000 }),
    disturbance: number({
      label: 'disturbance of each push',
      unit: '',
      above: 0,
      note: 'standard deviation from sample to sample, in the unit of the push',
    }),
    gains: choice({
      label: 'gains',
      options: {
        steady: 'the steady gains of a Kalman filter',
        varying: 'the gains of a Kalman filter at each moment',
        poles: 'gains that put its poles',
      },
      otherwise: 'steady',
    }),
    startUncertainty: number({
      label: 'uncertainty at the start',
      unit: '',
      above: 0,
      otherwise: 1,
      note: 'of every state, as a standard deviation; gains of each moment only',
    }),
    pace: number({
      label: 'pace of its errors',
      unit: 'rad/s',
      above: 0,
      most: 1e4,
      otherwise: 10,
      note: 'gains that put its poles only',
    }),
    reads: parts({ label: 'what it reads', kinds: [observedSignal] }),
  },
  fresh: ({ machine, holds, rate }): Part => ({
    ...{ kind: 'observer', machine, rate, disturbance: 1 },
    reads: { first: { kind: observedSignal.name, signal: holds, noise: 0.001 } },
  }),
  reads: observedBy,
  estimates: (machine, part) => {
    const found = observerDesign('', machine, part)
    return found.kind === 'refused' ? [] : found.value.estimated
  },
  rate: (_machine, { rate }) => rate,
  problems: strangeProblems,
  refused: (where, machine, part) => {
    const found = observerDesign(where, machine, part)
    return found.kind === 'refused' ? found.problems : []
  },
  worksOut: observerNumbers,
  run: observerRun,
  atRest: (machine, where, part) => {
    const design = observerDesign(where, machine, part)
    if (design.kind === 'refused') return undefined
    const { signals, estimated } = design.value
    const system = observerSystem(design.value, 1 / part.rate)
    return { reads: signals, knowsPushes: true, estimated, system }
  },
})

/** The quantities that an observer reads. */
function observedBy(part: Part): string[] {
  return Object.values(partOf(observerKind, part).reads).map(({ signal }) => signal)
}

/** Quantities that it reads and the machine has not. */
function strangeProblems(where: string, machine: Part, part: Part): Problem[] {
  const known = heldQuantities(machine).map(({ name: one }) => one)
  return Object.entries(partOf(observerKind, part).reads).flatMap(([key, { signal }]) =>
    known.includes(signal)
      ? []
      : [
          {
            where: `${where}.reads.${key}.signal`,
            what: `The machine has no ${signal}.`,
            remedy: nameRemedy(signal, known),
          },
        ],
  )
}

export interface ObserverDesign {
  /** The sampled machine about rest. */
  readonly a: Matrix
  readonly b: Matrix
  /** Of what is read, and of everything that is estimated. */
  readonly read: Matrix
  readonly shown: Matrix
  readonly direct: Matrix
  /** Gain of the measurement; of a varying one where it comes to rest. */
  readonly update: Matrix
  /** What a varying gain starts from and goes by; nothing for gains that stay. */
  readonly varying: { readonly start: number; readonly process: Matrix } | undefined
  readonly signals: readonly string[]
  readonly noises: readonly number[]
  readonly estimated: readonly string[]
  readonly rest: Readonly<Record<string, number>>
  readonly restOfInputs: readonly number[]
}

/** Designs of machines seen lately: every edit checks its document anew. */
const mostKept = 50
const designs = new Map<string, Outcome<ObserverDesign>>()

/** The observer of a checked machine, or why there is none. */
export function observerDesign(where: string, machine: Part, part: Part): Outcome<ObserverDesign> {
  const key = `${where} ${partHash(machine)} ${JSON.stringify(part)}`
  return remembered(designs, mostKept, key, () => designed(where, machine, part))
}

function designed(where: string, machine: Part, part: Part): Outcome<ObserverDesign> {
  const linear = linearMachine(machine, designLayers.all)
  if (linear.kind === 'refused') return linear
  const { system, operatingPoint } = linear.value
  const list = Object.values(part.reads as Readonly<Record<string, { readonly signal: string; readonly noise: number }>>)
  if (list.length === 0) return refusedFor(`${where}.reads`, 'It reads nothing.', 'Give it a signal that a sensor measures.')
  const signals = list.map(({ signal }) => signal)
  const atOnce = signals.find((signal) => answersAtOnce(system, signal))
  if (atOnce !== undefined)
    return refusedFor(
      `${where}.reads`,
      `${atOnce} answers to a push at once; an observer reads what was there before it.`,
      'Read what it moves, or put a lag of the sensor into the machine.',
    )
  // of what only sensors say it estimates what it reads
  const { runs, standing } = operatingPoint
  const [still] = Object.values(standing).flat()
  if (still !== undefined)
    return refusedFor(
      where,
      `${shortName(still, machine)} stands at the operating point, and gives no slope there.`,
      whereItTurns,
    )
  const onward = signals.find((signal) => runs[signal] !== undefined)
  if (onward !== undefined)
    return refusedFor(
      `${where}.reads`,
      `${findHeld(machine, onward)?.label ?? onward} runs on where the machine works: an observer counts from a point that stays.`,
      'Read how fast it goes, or let the machine work where it stands still.',
    )
  const own = new Set(measuringSensors(machine).map(({ quantity }) => quantity))
  const all = heldQuantities(machine)
    .map((quantity) => quantity.name)
    .filter(
      (one) =>
        runs[one] === undefined &&
        system.outputs.includes(one) &&
        (system.states.includes(one) || !own.has(one) || signals.includes(one)),
    )
  const { rate, disturbance: strength } = partOf(observerKind, part)
  const sampledOver = (outputs: readonly string[]) => {
    const small = minimalRealization(between(system, system.inputs, outputs))
    return small.dt === null ? sampledWithHold(small, 1 / rate) : small
  }
  if (system.dt !== null && Math.abs(system.dt * rate - 1) > 1e-9)
    return refusedFor(`${where}.rate`, `The machine is a sampled one, every ${system.dt} s.`, `Give ${1 / system.dt} Hz.`)
  const whole = sampledOver(all)
  // what nothing shows and what does not die out by itself is not estimated: all else is
  const estimated = seenIn(whole, signals)
  const lost = signals.find((signal) => !estimated.includes(signal))
  if (lost !== undefined)
    return refusedFor(
      `${where}.reads`,
      `${findHeld(machine, lost)?.label ?? lost} has no slope where the machine works that could be told from rounding.`,
      'Read something else, give its numbers a usual size, or let the machine work at another point.',
    )
  const sampled = estimated.length === all.length ? whole : sampledOver(estimated)
  const read = signals.map((signal) => sampled.c[estimated.indexOf(signal)]!)
  const noises = list.map(({ noise }) => noise)
  const process = times(multiply(sampled.b, transpose(sampled.b)), strength * strength)
  const { gains, startUncertainty, pace } = valuesOf(observerKind, part)
  const found = gains === 'poles' ? byPoles(sampled.a, read, pace / rate) : steadyGain(sampled.a, read, 1 / rate, process, noises)
  if (found.kind === 'refused') return refusedFor(where, found.problems[0]!.what, found.problems[0]!.remedy)
  if (gains === 'varying' && sampled.a.length > mostVarying)
    return refusedFor(
      `${where}.gains`,
      `${sampled.a.length} states move; gains of each moment are worked out for up to ${mostVarying}.`,
      'Take the steady gains.',
    )
  return done({
    ...{ a: sampled.a, b: sampled.b, read, shown: sampled.c, direct: sampled.d, update: found.value },
    varying: gains === 'varying' ? { start: startUncertainty * startUncertainty, process } : undefined,
    ...{ signals, noises, estimated },
    rest: operatingPoint.held,
    restOfInputs: system.inputs.map((input) => operatingPoint.pushes[input] ?? 0),
  })
}

/** Share of an output that may lie outside what the readings show. */
const unseenShare = 1e-7

/** What falls by less than this from sample to sample does not die out, whatever the rounding. */
const dying = 1 - 1e-6

/**
 * Those outputs of a system that follow from some of them, as far as their past is known: all of them where what does not show
 * dies out by itself.
 */
function seenIn({ a, c, outputs }: StateSpace, signals: readonly string[]): readonly string[] {
  const { reached, fixed } = observable(
    a,
    signals.flatMap((signal) => (outputs.includes(signal) ? [c[outputs.indexOf(signal)]!] : [])),
  )
  if (fixed.every((pole) => magnitude(pole) < dying)) return outputs
  return outputs.filter((_, i) => {
    const within = multiply(multiply([c[i]!], reached), transpose(reached, reached[0]?.length ?? 0))[0] ?? []
    return norm(c[i]!.map((value, k) => value - (within[k] ?? 0))) <= unseenShare * (norm(c[i]!) || 1)
  })
}

/** A covariance of so many states is carried along at every sample. */
const mostVarying = 10

function steadyGain(a: Matrix, c: Matrix, dt: number, qn: Matrix, noises: readonly number[]): Outcome<Matrix> {
  const rn = noises.map((noise, i) => noises.map((_, j) => (i === j ? noise * noise : 0)))
  const found = observer({ a, c, dt }, { qn, rn })
  return found.kind === 'refused' ? found : done(found.value.update!)
}

/** Gains with the errors' poles on a half circle of one size, in rad a sample: those of a Butterworth filter. */
function byPoles(a: Matrix, c: Matrix, pace: number): Outcome<Matrix> {
  const n = a.length
  const poles = Array.from({ length: n }, (_, k) => {
    const angle = (Math.PI * (2 * k + 1 + n)) / (2 * n)
    const [re, im] = [pace * cos(angle), pace * sin(angle)]
    return complex(exp(re) * cos(im), n % 2 === 1 && k === (n - 1) / 2 ? 0 : exp(re) * sin(im))
  })
  // errors after a correction go as (1 - M c) a: the poles of the pair (aᵀ, (c a)ᵀ)
  const found = placePoles({ a: transpose(a), b: transpose(multiply(c, a)) }, withPartners(poles))
  return found.kind === 'refused' ? found : done(transpose(found.value.k))
}

/** Exactly conjugate pairs, whatever the rounding. */
function withPartners(poles: readonly Complex[]): Complex[] {
  const upper = poles.filter(({ im }) => im > 0)
  return [...poles.filter(({ im }) => im === 0), ...upper, ...upper.map(({ re, im }) => complex(re, -im))]
}

/** How many values an observer remembers: its states, and the upper triangle of their covariance where its gains vary. */
export function observerMemory({ a, varying }: Pick<ObserverDesign, 'a' | 'varying'>): number {
  const n = a.length
  return varying === undefined ? n : n + packedSize(n)
}

/** Numbers of a design by which an observer runs: as they are, or where they stand in memory. */
export interface ObserverNumbers {
  readonly a: ScalarMatrix
  readonly b: ScalarMatrix
  readonly read: ScalarMatrix
  readonly shown: ScalarMatrix
  readonly direct: ScalarMatrix
  readonly update: ScalarMatrix
  readonly varying: { readonly start: Scalar; readonly process: ScalarMatrix } | undefined
  readonly noises: readonly number[]
}

/** What that memory holds at the start. */
export function observerStart({ a, varying }: Pick<ObserverNumbers, 'a' | 'varying'>): Scalar[] {
  const none = a.map(() => 0)
  if (varying === undefined) return none
  return [...none, ...upperTriangle(a.map((_, i) => a.map((_, j) => (i === j ? varying.start : 0))))]
}

/**
 * One sample: moved by the push since the last one, then corrected by what is read. All from rest. Gives the next memory,
 * the innovations and what is estimated.
 */
export function observerStep(
  design: ObserverNumbers,
  memory: readonly Scalar[],
  pushes: readonly Scalar[],
  readings: readonly Scalar[],
): { readonly memory: readonly Scalar[]; readonly innovations: readonly Scalar[]; readonly estimates: readonly Scalar[] } {
  const { a, b, read, shown, direct, update, varying, noises } = design
  const n = a.length
  const row = (factors: readonly Scalar[], values: readonly Scalar[]) => sum(factors.map((factor, k) => mul(factor, values[k]!)))
  const x = memory.slice(0, n)
  const moved = a.map((factors, i) => add(row(factors, x), row(b[i]!, pushes)))
  const innovations = read.map((factors, i) => sub(readings[i]!, row(factors, moved)))
  const result = (next: readonly Scalar[], more: readonly Scalar[]) => ({
    memory: [...next, ...more],
    innovations,
    estimates: shown.map((factors, i) => add(row(factors, next), row(direct[i]!, pushes))),
  })
  if (varying === undefined)
    return result(
      moved.map((value, i) => add(value, row(update[i]!, innovations))),
      [],
    )
  const p = fromUpperTriangle(memory.slice(n), n)
  const grown = predicted({ x: a.map(() => [0]), p }, a, varying.process)
  const r = noises.map((noise, i) => noises.map((_, j) => (i === j ? noise * noise : 0)))
  const after = updated(
    grown,
    read,
    r,
    innovations.map((one) => [one]),
  )
  return result(
    moved.map((value, i) => add(value, after.x[i]![0]!)),
    upperTriangle(after.p),
  )
}

/**
 * An observer as a sampled system from what it reads and then all pushes of its machine, as they were asked, to its
 * estimates at the same sample.
 */
export function observerSystem({ a, b, read, shown, direct, update }: ObserverDesign, dt: number): StateSpace {
  const [n, m] = [a.length, b[0]?.length ?? 0]
  const kept = plusMatrix(identity(n), times(multiply(update, read), -1))
  // the state: what was estimated before, and the pushes since
  const [own, pushed] = [multiply(kept, a), multiply(kept, b)]
  const moved = own.map((row, i) => [...row, ...pushed[i]!])
  const none = (count: number) => new Array<number>(count).fill(0)
  return {
    a: [...moved, ...zeros(m, n + m)],
    b: [...update.map((gains) => [...gains, ...none(m)]), ...identity(m).map((one) => [...none(read.length), ...one])],
    c: plusMatrix(
      multiply(shown, moved),
      direct.map((row) => [...none(n), ...row]),
    ),
    d: multiply(shown, update).map((row) => [...row, ...none(m)]),
    dt,
    ...names(n + m, read.length + m, shown.length),
  }
}

/** The matrices of a design by their names, all entries: which of them are nothing is a matter of rounding. */
const matrices = ['a', 'b', 'read', 'shown', 'direct', 'update'] as const

/** Numbers of the design of an observer that was checked. */
function observerNumbers(machine: Part, part: Part): Readonly<Record<string, number>> {
  const design = checkedDesign(machine, part)
  const of = (name: string, matrix: Matrix) =>
    matrix.flatMap((row, i) => row.map((value, j) => [`${name}.${i}.${j}`, value] as const))
  return Object.fromEntries([
    ...matrices.flatMap((name) => of(name, design[name])),
    ...design.restOfInputs.map((value, i) => [`pushed.${i}`, value] as const),
    ...(design.varying === undefined ? [] : [['start', design.varying.start] as const, ...of('process', design.varying.process)]),
  ])
}

function checkedDesign(machine: Part, part: Part): ObserverDesign {
  const found = observerDesign('', machine, part)
  assert(found.kind === 'done', 'An observer that runs was designed when its document was checked.')
  return found.value
}

/** Of everything that it reads a sensor's value with its errors, or the true one with a noise of its own. */
function observerRun(context: EstimatorContext): EstimatorRun {
  const { machine, part, measured, isMeasured, number: own, random, asked, rest } = context
  const design = checkedDesign(machine, part)
  const kept = (name: string, matrix: Matrix) => matrix.map((row, i) => row.map((_, j) => own(`${name}.${i}.${j}`)))
  const of = (name: (typeof matrices)[number]) => kept(name, design[name])
  const numbers: ObserverNumbers = {
    ...{ a: of('a'), b: of('b'), read: of('read'), shown: of('shown'), direct: of('direct'), update: of('update') },
    varying: design.varying && { start: own('start'), process: kept('process', design.varying.process) },
    noises: design.noises,
  }
  const keys = Object.keys(partsIn(part.reads))
  const readings = design.signals.map((signal, i) => {
    const noise = isMeasured(signal) ? 0 : mul(own(`reads.${keys[i]!}.noise`), random(i))
    return sub(add(measured(signal), noise), rest(signal))
  })
  const pushes = asked.map((value, i) => sub(value, own(`pushed.${i}`)))
  return {
    start: observerStart(numbers),
    step: (memory) => {
      const step = observerStep(numbers, memory, pushes, readings)
      return {
        memory: step.memory,
        kept: [
          ...design.estimated.map((quantity, i) => ({ value: add(step.estimates[i]!, rest(quantity)), start: rest(quantity) })),
          ...step.innovations.map((value) => ({ value, start: 0 })),
        ],
      }
    },
    tells: (_memory, kept) => ({
      estimates: new Map(design.estimated.map((quantity, i) => [quantity, kept[i]!])),
      watched: design.signals.map((signal, i) => {
        const { label, unit } = findHeld(machine, signal)!
        return innovation(signal, unit, kept[design.estimated.length + i]!, label)
      }),
    }),
  }
}
