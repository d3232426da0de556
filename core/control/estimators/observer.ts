import { identity, multiply, plusMatrix, times, transpose, zeros } from '../../algebra'
import type { Matrix } from '../../algebra'
import { add, mul, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'
import { done, partHash, refusedFor, remembered } from '../../document'
import type { Outcome, Part } from '../../document'
import { name, number, parts } from '../../kinds'
import type { Kind } from '../../kinds'
import { between, minimalRealization, names, observer, sampledWithHold } from '../../linear'
import type { StateSpace } from '../../linear'
import { designLayers, heldQuantities } from '../../machine'
import { linearMachine } from '../plant'

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

/** A steady Kalman filter of the linear machine. */
export const observerKind = {
  name: 'observer',
  says: 'estimates everything that moves, {rate#} times a second',
  about:
    'x = A x + B u + M (y - C x) at every sample, with the linear machine about its operating point and the steady gains for disturbances of its pushes and noise of what is read. Anderson & Moore, Optimal Filtering, 1979 (from memory). Refused, with the mode named, where nothing read shows what does not die out by itself.',
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    rate: number({ label: 'rate', unit: 'Hz', above: 0, most: 10000 }),
    disturbance: number({
      label: 'disturbance of each push',
      unit: '',
      above: 0,
      note: 'standard deviation from sample to sample, in the unit of the push',
    }),
    reads: parts({ label: 'what it reads', kinds: [observedSignal] }),
  },
} as const satisfies Kind

export interface ObserverDesign {
  /** The sampled machine about rest. */
  readonly a: Matrix
  readonly b: Matrix
  /** Of what is read, and of everything that is estimated. */
  readonly read: Matrix
  readonly shown: Matrix
  readonly direct: Matrix
  /** Gain of the measurement. */
  readonly update: Matrix
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
  const linear = linearMachine(machine, designLayers(machine).all)
  if (linear.kind === 'refused') return linear
  const { system, operatingPoint } = linear.value
  const list = Object.values(part.reads as Readonly<Record<string, { readonly signal: string; readonly noise: number }>>)
  if (list.length === 0) return refusedFor(`${where}.reads`, 'It reads nothing.', 'Give it a signal that a sensor measures.')
  const estimated = heldQuantities(machine)
    .map((quantity) => quantity.name)
    .filter((one) => system.outputs.includes(one))
  const signals = list.map(({ signal }) => signal)
  const small = minimalRealization(between(system, system.inputs, estimated))
  const rate = part.rate as number
  if (small.dt !== null && Math.abs(small.dt * rate - 1) > 1e-9)
    return refusedFor(`${where}.rate`, `The machine is a sampled one, every ${small.dt} s.`, `Give ${1 / small.dt} Hz.`)
  const sampled = small.dt === null ? sampledWithHold(small, 1 / rate) : small
  const read = signals.map((signal) => sampled.c[estimated.indexOf(signal)]!)
  const noises = list.map(({ noise }) => noise)
  const strength = part.disturbance as number
  const found = observer(
    { a: sampled.a, c: read, dt: 1 / rate },
    {
      qn: times(multiply(sampled.b, transpose(sampled.b)), strength * strength),
      rn: noises.map((noise, i) => noises.map((_, j) => (i === j ? noise * noise : 0))),
    },
  )
  if (found.kind === 'refused') return refusedFor(where, found.problems[0]!.what, found.problems[0]!.remedy)
  return done({
    ...{ a: sampled.a, b: sampled.b, read, shown: sampled.c, direct: sampled.d, update: found.value.update! },
    ...{ signals, noises, estimated },
    rest: operatingPoint.held,
    restOfInputs: system.inputs.map((input) => operatingPoint.pushes[input] ?? 0),
  })
}

/**
 * One sample: moved by the push since the last one, then corrected by what is read. All from rest. Gives the next state,
 * the innovations and what is estimated.
 */
export function observerStep(
  { a, b, read, shown, direct, update }: ObserverDesign,
  memory: readonly Scalar[],
  pushes: readonly Scalar[],
  readings: readonly Scalar[],
): { readonly memory: readonly Scalar[]; readonly innovations: readonly Scalar[]; readonly estimates: readonly Scalar[] } {
  const row = (factors: readonly number[], values: readonly Scalar[]) => sum(factors.map((factor, k) => mul(factor, values[k]!)))
  const moved = a.map((factors, i) => add(row(factors, memory), row(b[i]!, pushes)))
  const innovations = read.map((factors, i) => sub(readings[i]!, row(factors, moved)))
  const next = moved.map((value, i) => add(value, row(update[i]!, innovations)))
  return {
    memory: next,
    innovations,
    estimates: shown.map((factors, i) => add(row(factors, next), row(direct[i]!, pushes))),
  }
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
