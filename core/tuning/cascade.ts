import { partHash } from '../document'
import { findHeld } from '../machine'
import type { Part } from '../document'
import { minimalRealization, names, sampledWithHold } from '../linear'
import type { StateSpace } from '../linear'
import type { Gains, LoopModel, LoopValues } from './loopModel'

/** A loop that is closed while another is designed. */
export interface ClosedLoop {
  readonly name: string
  readonly design: { readonly values: LoopValues; readonly model: LoopModel; readonly gains: Gains }
  /** The loop whose command is its reference; the one under design where it is not among the closed ones. */
  readonly commander: string | undefined
}

export interface CascadeRequest {
  readonly machine: Part
  /** The machine about its operating point. */
  readonly system: StateSpace
  /** Outer before inner. */
  readonly closed: readonly ClosedLoop[]
  /** The loop under design: whose reference it moves (or which push of the machine), and what it holds. */
  readonly pushes: string
  readonly commands: string | undefined
  readonly holds: string
  readonly rate: number
}

const mostKept = 60
const kept = new Map<string, StateSpace>()

/**
 * What a loop sees that commands another: from its command, held over each of its samples, to what it holds and the rate
 * of that, with the loops below closed at their own rates. Exact: one sample of the outer loop is the composition of all
 * ticks within it. The third output is what the commanded loop holds. Rates must be whole multiples of the outer one.
 */
export function cascadedPlant(request: CascadeRequest): StateSpace {
  const { machine, system, closed, ...own } = request
  const loops = closed.map(({ name, design, commander }) => [name, design.values, design.gains, commander])
  const key = `${partHash(machine)} ${partHash(system)} ${JSON.stringify([own, loops])}`
  const known = kept.get(key)
  if (known !== undefined) return known
  const made = composed(request)
  if (kept.size >= mostKept) kept.clear()
  kept.set(key, made)
  return made
}

function composed({ machine, system, closed, pushes, commands, holds, rate }: CascadeRequest): StateSpace {
  const rateOf = (held: string) => findHeld(machine, held)?.rate
  const observed = [...new Set([holds, ...closed.map(({ design }) => design.values.holds)])]
  const outputs = [...new Set(observed.flatMap((held) => [held, rateOf(held) ?? held]))]
  const inputs = [...new Set([pushes, ...closed.map(({ design }) => design.values.pushes)])].filter((one) =>
    system.inputs.includes(one),
  )
  const small = minimalRealization(restricted(system, inputs, outputs))
  const base = closed.reduce((all, { design }) => leastMultiple(all, design.values.rate), rate)
  const tick = small.dt === null ? sampledWithHold(small, 1 / base) : small
  const ticks = Math.round(base / rate)
  const at = (held: string | undefined) => (held === undefined ? -1 : outputs.indexOf(held))

  // places in the whole state: the machine, then of each loop its memory, commands on their way, and the one applied
  let size = tick.a.length
  const take = (count: number) => (size += count) - count
  const loops = closed.map(({ name, design: { values, model, gains }, commander }) => ({
    ...{ name, law: model.law, gains, delay: values.delay, dt: 1 / values.rate },
    every: Math.round(base / values.rate),
    commander: closed.findIndex((one) => one.name === commander),
    // nobody else's: it is the one under design that commands, or the reference stays where it is
    isAsked: name === commands,
    held: at(values.holds),
    heldRate: at(rateOf(values.holds)),
    input: inputs.indexOf(values.pushes),
    isClosed: values.closed,
    memory: take(model.law.memory.length),
    waiting: take(values.delay),
    applied: take(1),
  }))
  const own = inputs.indexOf(pushes)
  const whole = (start: readonly number[], command: number): number[] => {
    let z = [...start]
    for (let k = 0; k < ticks; k++) {
      const next = [...z]
      const shown = tick.c.map((row) => row.reduce((sum, value, j) => sum + value * z[j]!, 0))
      for (const loop of loops) {
        if (k % loop.every !== 0) continue
        const reference = loop.isAsked ? command : loop.commander >= 0 ? next[loops[loop.commander]!.applied]! : 0
        const memory = next.slice(loop.memory, loop.memory + loop.law.memory.length)
        const inputsOfLaw = {
          error: reference - shown[loop.held]!,
          reference,
          excess: 0,
          rate: loop.heldRate < 0 ? 0 : shown[loop.heldRate]!,
          dt: loop.dt,
        }
        const step = loop.law.step(inputsOfLaw, memory, loop.gains)
        const asked = loop.isClosed ? Object.values(step.terms).reduce<number>((sum, term) => sum + (term as number), 0) : 0
        step.memory.forEach((value, i) => (next[loop.memory + i] = value as number))
        const pipeline = [...next.slice(loop.waiting, loop.waiting + loop.delay), asked]
        next[loop.applied] = pipeline.shift()!
        pipeline.forEach((value, i) => (next[loop.waiting + i] = value))
      }
      const push = inputs.map((_, i) =>
        loops.reduce((sum, loop) => sum + (loop.input === i ? next[loop.applied]! : 0), i === own ? command : 0),
      )
      tick.a.forEach((row, i) => {
        next[i] =
          row.reduce((sum, value, j) => sum + value * z[j]!, 0) + tick.b[i]!.reduce((sum, value, j) => sum + value * push[j]!, 0)
      })
      z = next
    }
    return z
  }
  const unit = (j: number) => Array.from({ length: size }, (_, i) => (i === j ? 1 : 0))
  const columns = Array.from({ length: size }, (_, j) => whole(unit(j), 0))
  const driven = whole(unit(-1), 1)
  const shownRow = (output: number) => Array.from({ length: size }, (_, j) => tick.c[output]![j] ?? 0)
  const shown = [holds, rateOf(holds), closed.find(({ name }) => name === commands)?.design.values.holds]
  const rows = shown.map((name) => (name === undefined ? unit(-1) : shownRow(at(name))))
  return {
    a: unit(-1).map((_, i) => columns.map((column) => column[i]!)),
    b: driven.map((value) => [value]),
    c: rows,
    d: rows.map(() => [0]),
    dt: 1 / rate,
    ...names(size, 1, rows.length),
  }
}

function restricted(system: StateSpace, inputs: readonly string[], outputs: readonly string[]): StateSpace {
  const columns = inputs.map((name) => system.inputs.indexOf(name))
  const rows = outputs.map((name) => system.outputs.indexOf(name))
  return {
    ...system,
    b: system.b.map((row) => columns.map((j) => row[j]!)),
    c: rows.map((i) => system.c[i]!),
    d: rows.map((i) => columns.map((j) => system.d[i]![j]!)),
    inputs,
    outputs,
  }
}

function leastMultiple(a: number, b: number): number {
  const divisor = (x: number, y: number): number => (y === 0 ? x : divisor(y, x % y))
  return (a / divisor(a, b)) * b
}
