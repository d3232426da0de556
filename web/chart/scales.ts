import type { Axis } from './axis'

/** Round steps for an axis: 1, 2 or 5 times a power of ten, about `count` of them. */
export function niceTicks(least: number, most: number, count: number): number[] {
  const span = most - least
  if (!(span > 0)) return [least]
  const raw = span / count
  const power = 10 ** Math.floor(Math.log10(raw))
  const step = [1, 2, 5, 10].find((factor) => factor * power >= raw)! * power
  const first = Math.ceil(least / step - 1e-9)
  const last = Math.floor(most / step + 1e-9)
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => Number(((first + i) * step).toPrecision(12)))
}

/** A linear axis over a domain, with about `count` ticks. */
export function axisOver(domain: Axis['domain'], count: number): Axis {
  return { domain, ticks: niceTicks(...domain, count) }
}

/** Characters that stand beside an axis. */
const roomForWords = 6

/** A number beside a tick: what would not fit there with its power of ten. */
export function tickWords(value: number): string {
  const size = Math.abs(value)
  const short = Number(value.toPrecision(6)).toExponential().replace('e+', 'e')
  if (size !== 0 && (size >= 1e5 || size < 1e-3)) return short
  const plain = String(Number(value.toPrecision(6)))
  return plain.length > roomForWords && short.length < plain.length ? short : plain
}

/** Least and most of some curves, widened to round numbers; `always` values are kept in sight. */
export function niceDomain(curves: readonly ArrayLike<number>[], always: readonly number[] = []): [number, number] {
  let [least, most] = [Infinity, -Infinity]
  const see = (value: number) => {
    if (!Number.isFinite(value)) return
    if (value < least) least = value
    if (value > most) most = value
  }
  for (const curve of curves) for (let i = 0; i < curve.length; i++) see(curve[i]!)
  always.forEach(see)
  if (!(most >= least)) return [0, 1]
  if (most - least < 1e-9 * Math.max(1, Math.abs(most))) return [least - 1, most + 1]
  const ticks = niceTicks(least, most, 5)
  const step = ticks.length > 1 ? ticks[1]! - ticks[0]! : most - least
  // a curve that only touches a round number is not cut off by it
  return [Math.floor(least / step + 1e-9) * step, Math.ceil(most / step - 1e-9) * step]
}

/** Both domains grown about their middles until one across is as long as one up, on a plot `shape` times as wide as high. */
export function equalScales(
  x: readonly [number, number],
  y: readonly [number, number],
  shape: number,
): [[number, number], [number, number]] {
  const [wide, high] = [x[1] - x[0], y[1] - y[0]]
  const grown = ([least, most]: readonly [number, number], to: number): [number, number] => [
    // rounding cuts nothing off
    Math.min(least, (least + most - to) / 2),
    Math.max(most, (least + most + to) / 2),
  ]
  const unit = Math.max(wide / shape, high)
  return [grown(x, unit * shape), grown(y, unit)]
}
