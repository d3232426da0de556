import { partHash } from '../document'
import { findHeld } from '../machine'
import type { Part } from '../document'
import { transpose } from '../algebra'
import { channel, minimalRealization, names, sampledWithHold } from '../linear'
import type { StateSpace } from '../linear'
import type { Gains, LoopModel, LoopValues } from './loopModel'

/** A loop that is closed while one outside it is designed. */
export interface ClosedLoop {
  readonly values: LoopValues
  readonly model: LoopModel
  readonly gains: Gains
}

export interface CascadeRequest {
  readonly machine: Part
  /** The machine about its operating point. */
  readonly system: StateSpace
  /** The loops inside, each commanding the next; the last one pushes the machine. */
  readonly inside: readonly ClosedLoop[]
  /** What the loop under design holds, and how often it runs, Hz. */
  readonly holds: string
  readonly rate: number
}

const mostKept = 60
const kept = new Map<string, StateSpace>()

/**
 * What a loop sees that commands another: from its command, held over each of its samples, to what it holds and the rate
 * of that, with the loops inside closed at their own rates. Exact: one sample of the outer loop is the composition of all
 * ticks within it. The third output is what the commanded loop holds. Every loop inside runs a whole number of times as
 * often as the one outside it, so the last one's samples are the ticks.
 */
export function cascadedPlant(request: CascadeRequest): StateSpace {
  const { machine, system, inside, ...own } = request
  const loops = inside.map(({ values, gains }) => [values, gains])
  const key = `${partHash(machine)} ${partHash(system)} ${JSON.stringify([own, loops])}`
  const known = kept.get(key)
  if (known !== undefined) return known
  const made = composed(request)
  if (kept.size >= mostKept) kept.clear()
  kept.set(key, made)
  return made
}

function composed({ machine, system, inside, holds, rate }: CascadeRequest): StateSpace {
  const rateOf = (held: string) => findHeld(machine, held)?.rate
  const observed = [...new Set([holds, ...inside.map(({ values }) => values.holds)])]
  const outputs = [...new Set(observed.flatMap((held) => [held, rateOf(held) ?? held]))]
  const last = inside.at(-1)!.values
  const small = minimalRealization(channel(system, last.pushes, outputs))
  const tick = small.dt === null ? sampledWithHold(small, 1 / last.rate) : small
  const ticks = Math.round(last.rate / rate)
  const at = (held: string | undefined) => (held === undefined ? -1 : outputs.indexOf(held))

  // places in the whole state: the machine, then of each loop its memory, commands on their way, and the one applied
  let size = tick.a.length
  const take = (count: number) => (size += count) - count
  const loops = inside.map(({ values, model: { law }, gains }) => ({
    ...{ law, gains, delay: values.delay, dt: 1 / values.rate, isClosed: values.closed },
    every: Math.round(last.rate / values.rate),
    held: at(values.holds),
    heldRate: at(rateOf(values.holds)),
    memory: take(law.memory.length),
    waiting: take(values.delay),
    applied: take(1),
  }))
  const whole = (start: readonly number[], command: number): number[] => {
    let z = [...start]
    for (let k = 0; k < ticks; k++) {
      const next = [...z]
      const shown = tick.c.map((row) => row.reduce((sum, value, j) => sum + value * z[j]!, 0))
      let reference = command
      for (const loop of loops) {
        if (k % loop.every === 0) {
          const memory = next.slice(loop.memory, loop.memory + loop.law.memory.length)
          const inputs = {
            error: reference - shown[loop.held]!,
            reference,
            excess: 0,
            rate: loop.heldRate < 0 ? 0 : shown[loop.heldRate]!,
            dt: loop.dt,
          }
          const step = loop.law.step(inputs, memory, loop.gains)
          const asked = loop.isClosed ? Object.values(step.terms).reduce<number>((sum, term) => sum + (term as number), 0) : 0
          step.memory.forEach((value, i) => (next[loop.memory + i] = value as number))
          const pipeline = [...next.slice(loop.waiting, loop.waiting + loop.delay), asked]
          next[loop.applied] = pipeline.shift()!
          pipeline.forEach((value, i) => (next[loop.waiting + i] = value))
        }
        reference = next[loop.applied]!
      }
      const push = reference
      tick.a.forEach((row, i) => (next[i] = row.reduce((sum, value, j) => sum + value * z[j]!, tick.b[i]![0]! * push)))
      z = next
    }
    return z
  }
  const unit = (j: number) => Array.from({ length: size }, (_, i) => (i === j ? 1 : 0))
  const columns = Array.from({ length: size }, (_, j) => whole(unit(j), 0))
  const driven = whole(unit(-1), 1)
  const shownRow = (output: number) => Array.from({ length: size }, (_, j) => tick.c[output]![j] ?? 0)
  const rows = [holds, rateOf(holds), inside[0]!.values.holds].map((name) => (name === undefined ? unit(-1) : shownRow(at(name))))
  return {
    a: transpose(columns),
    b: driven.map((value) => [value]),
    c: rows,
    d: rows.map(() => [0]),
    dt: 1 / rate,
    ...names(size, 1, rows.length),
  }
}
