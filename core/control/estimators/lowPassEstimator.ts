import { add, div, exp, mul, neg, select, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { wrapped } from '../../algebra'
import { nameRemedy } from '../../document'
import type { Part } from '../../document'
import { blankPart, name, number, partOf, valuesOf } from '../../kinds'
import { names } from '../../linear'
import { findHeld, heldQuantities } from '../../machine'
import type { LinearEstimator } from './estimator'
import { defineEstimator } from './estimator'

/** A lag on what is read of one quantity, for machines of every kind. */
export const lowPassEstimator = defineEstimator({
  name: 'lowPassEstimator',
  label: 'low-pass',
  says: 'smooths {signal} below {corner}, {rate#} times a second',
  about:
    'x follows what is read in a first-order lag, sampled exactly: x = x + (1 - e^(-corner dt)) (y - x). How fast x moves is its estimate of the rate, where the quantity has one. It reads the sensor of the quantity where there is one, and lags by about one over its corner, which the margins of a loop that reads it count in. Of several estimates of one quantity this one counts.',
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    signal: name({ label: 'signal', of: 'held' }),
    corner: number({ label: 'corner', unit: 'rad/s', above: 0, most: 1e5, otherwise: 20 }),
    rate: number({ label: 'rate', unit: 'Hz', above: 0, most: 10000, otherwise: 100 }),
  },
  fresh: ({ machine, holds, rate }): Part => blankPart(lowPassEstimator, { machine, signal: holds, rate }),
  isLast: true,
  reads: ({ signal }) => [signal],
  estimates: (machine, { signal }) => {
    const rate = findHeld(machine, signal)?.rate
    return [signal, ...(rate === undefined ? [] : [rate])]
  },
  rate: (_machine, { rate }) => rate as number,
  problems: (where, machine, { signal }) => {
    const known = heldQuantities(machine).map((one) => one.name)
    if (known.includes(signal)) return []
    const what = `There is no quantity named ${signal}.`
    return [{ where: `${where}.signal`, what, remedy: nameRemedy(signal, known) }]
  },
  run: ({ machine, part, measured, number: own, isFirst, dt }) => {
    const held = findHeld(machine, part.signal)!
    const read = measured(held.name)
    return {
      start: [0, 0],
      step: ([before]) => {
        const next = lowPassStep(before!, { read, corner: own('corner'), dt, goesRound: held.angle === 'goesRound' })
        // it starts at its first reading
        return { memory: [select(isFirst, read, next.estimate), select(isFirst, 0, next.rate)], kept: [] }
      },
      tells: ([estimate, rate]) => ({
        estimates: new Map([[held.name, estimate!], ...(held.rate === undefined ? [] : [[held.rate, rate!] as const])]),
        watched: [],
      }),
    }
  },
  atRest: lowPassAtRest,
})

export interface LowPassInputs {
  readonly read: Scalar
  /** rad/s */
  readonly corner: Scalar
  /** s */
  readonly dt: number
  /** An angle that goes round is followed the short way. */
  readonly goesRound: boolean
}

/** One sample: where the estimate moves to, and how fast it moves. */
export function lowPassStep(
  estimate: Scalar,
  { read, corner, dt, goesRound }: LowPassInputs,
): { readonly estimate: Scalar; readonly rate: Scalar } {
  const share = sub(1, exp(neg(mul(corner, dt))))
  const away = sub(read, estimate)
  const change = mul(share, goesRound ? wrapped(away) : away)
  const moved = add(estimate, change)
  return { estimate: goesRound ? wrapped(moved) : moved, rate: div(change, dt) }
}

/** The lag of a low-pass, and how fast its estimate moves as that of the rate. */
function lowPassAtRest(machine: Part, _where: string, part: Part): LinearEstimator {
  const own = partOf(lowPassEstimator, part)
  const { signal, corner, rate } = valuesOf(lowPassEstimator, part)
  const dt = 1 / rate
  const kept = exp(-corner * dt)
  const slope = (1 - kept) / dt
  const estimated = lowPassEstimator.estimates(machine, own)
  return {
    reads: [signal],
    knowsPushes: false,
    estimated,
    system: {
      a: [[kept]],
      b: [[1 - kept]],
      c: [[kept], [-slope]].slice(0, estimated.length),
      d: [[1 - kept], [slope]].slice(0, estimated.length),
      dt,
      ...names(1, 1, estimated.length),
    },
  }
}
