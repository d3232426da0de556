import { poles, stepResponse } from '../linear'
import type { StateSpace } from '../linear'

export interface InputStep {
  readonly output: string
  readonly t: readonly number[]
  readonly y: readonly number[]
  /** At the samples of a controller: what the held, sampled model gives there. */
  readonly sampled: readonly { readonly t: number; readonly y: number }[]
  /** It first goes against where it is later. */
  readonly wrongWay: boolean
}

const points = 121
/** s: a step is looked at no longer, and much shorter where the machine runs away. */
const longest = 2
const mostGrowth = 3
/** Samples over the time that is looked at. */
const samples = 20
/** Share of the largest excursion that counts as having moved. */
const noticed = 0.02

/** How each coordinate answers a step of one input about the resting point: exact for the linear form. */
export function inputSteps(
  system: StateSpace,
  input: string,
  outputs: readonly string[],
  size = 1,
  seconds = longest,
): InputStep[] {
  const column = system.inputs.indexOf(input)
  const fastest = Math.max(0, ...(system.dt === null ? (poles(system) ?? []) : []).map(({ re }) => re))
  const until = fastest > 0 ? Math.min(seconds, mostGrowth / fastest) : seconds
  const { t, y } = stepResponse(system, until, points, column)
  const every = Math.max(1, Math.floor((t.length - 1) / samples))
  return outputs.map((output) => {
    const row = system.outputs.indexOf(output)
    const values = y.map((all) => size * all[row]!)
    const dots = t.flatMap((at, k) => (k % every === 0 ? [{ t: at, y: values[k]! }] : []))
    return { output, t, y: values, sampled: dots, wrongWay: startsWrongWay(values) }
  })
}

/** The first noticeable excursion and the last value lie on different sides of the start. */
function startsWrongWay(y: readonly number[]): boolean {
  const start = y[0]!
  const most = Math.max(...y.map((value) => Math.abs(value - start)))
  if (!(most > 0)) return false
  const first = y.find((value) => Math.abs(value - start) > noticed * most)
  return (
    first !== undefined &&
    Math.sign(first - start) !== Math.sign(y.at(-1)! - start) &&
    Math.abs(y.at(-1)! - start) > noticed * most
  )
}
