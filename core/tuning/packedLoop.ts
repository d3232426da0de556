import { addProduct, eigenvaluesWithin, magnitude } from '../algebra'
import type { GainName } from '../control'
import { feltPoles, integralIsHidden } from './atRest'
import { closedLoop } from './closedLoop'
import type { Gains, LoopModel } from './loopModel'
import { noGains } from './tune'

/**
 * A closed loop with its gains left open, as plain numbers: a map asks for thousands of them. Entries row by row: a, then
 * the reference's column b, then c and d of what is held and of the command.
 */
export interface PackedLoop {
  readonly names: readonly GainName[]
  readonly states: number
  /** Its integral holds a pole at 1 that nobody feels. */
  readonly hidesIntegral: boolean
  readonly base: Float64Array
  /** What one of each gain adds: the closed loop is linear in its gains. */
  readonly each: readonly Float64Array[]
}

export function packedLoop(model: LoopModel): PackedLoop {
  const names = model.law.gains
  const { a, b, c, d } = closedLoop(model, noGains)
  const base = packed([...a, ...b, ...c, ...d])
  const each = names.map((name) => {
    const one = closedLoop(model, { ...noGains, [name]: 1 })
    return packed([...one.a, ...one.b, ...one.c, ...one.d]).map((value, i) => value - base[i]!)
  })
  return { names, states: a.length, hidesIntegral: integralIsHidden(model), base, each }
}

function packed(rows: readonly (readonly number[])[]): Float64Array {
  return Float64Array.from(rows.flat())
}

/** The loop's entries with these gains. */
export function entriesWith({ names, base, each }: PackedLoop, gains: Gains): Float64Array {
  const out = base.slice()
  for (let g = 0; g < names.length; g++) {
    const gain = gains[names[g]!] ?? 0
    const own = each[g]!
    for (let i = 0; i < out.length; i++) out[i]! += gain * own[i]!
  }
  return out
}

export function isStableWith(entries: Float64Array, { states: n, hidesIntegral }: PackedLoop, gains: Pick<Gains, 'ki'>): boolean {
  const poles = eigenvaluesWithin(entries.slice(0, n * n), n)
  if (poles === undefined) return false
  const felt = hidesIntegral ? feltPoles(() => true, gains, poles) : poles
  return felt.every((pole) => magnitude(pole) < 1 - 1e-12)
}

/** Samples between states that are worked out. */
const block = 8

/**
 * Writes what is held over a unit step at every `stride`-th sample; gives the largest command there. States are stepped a
 * block of outputs at a time: what is read within it follows from the state at its start, which costs a third of stepping
 * through.
 */
export function unitStep(entries: Float64Array, n: number, stride: number, held: Float64Array): number {
  const [a, b] = power(entries.subarray(0, n * n), entries.subarray(n * n, n * n + n), stride, n)
  const rows = new Float64Array(2 * block * n)
  const constants = new Float64Array(2 * block)
  rows.set(entries.subarray(n * n + n, n * n + 3 * n))
  constants.set(entries.subarray(n * n + 3 * n))
  // output after output: that of the next sample is its row times a, and what b adds on the way
  for (let place = 2; place < 2 * block; place++) {
    const before = (place - 2) * n
    constants[place] = constants[place - 2]!
    for (let i = 0; i < n; i++) {
      const share = rows[before + i]!
      constants[place]! += share * b[i]!
      for (let j = 0; j < n; j++) rows[place * n + j]! += share * a[i * n + j]!
    }
  }
  const [far, farPush] = power(a, b, block, n)
  let x = new Float64Array(n)
  let next = new Float64Array(n)
  let peak = 0
  for (let k = 0; k < held.length; k++) {
    const place = 2 * (k % block)
    let y = constants[place]!
    let u = constants[place + 1]!
    for (let j = 0, at = place * n; j < n; j++, at++) {
      y += rows[at]! * x[j]!
      u += rows[at + n]! * x[j]!
    }
    held[k] = y
    if (Math.abs(u) > peak) peak = Math.abs(u)
    if (place < 2 * (block - 1)) continue
    stepped(far, farPush, x, next)
    ;[x, next] = [next, x]
  }
  return peak
}

/** next = a x + b */
function stepped(a: Float64Array, b: Float64Array, x: Float64Array, next: Float64Array): void {
  next.set(b)
  addProduct(a, x, next)
}

/** The same loop over several samples with its reference held. */
function power(a: Float64Array, b: Float64Array, times: number, n: number): [a: Float64Array, b: Float64Array] {
  let [powered, summed] = [a, b]
  let out: [Float64Array, Float64Array] | undefined
  for (let left = times; ; left = Math.floor(left / 2)) {
    if (left % 2 === 1) out = out === undefined ? [powered, summed] : after(out, powered, summed, n)
    if (left <= 1) return out!
    ;[powered, summed] = after([powered, summed], powered, summed, n)
  }
}

/** One after another: x -> a (a₁ x + b₁) + b */
function after(
  [a1, b1]: readonly [Float64Array, Float64Array],
  a: Float64Array,
  b: Float64Array,
  n: number,
): [Float64Array, Float64Array] {
  const both: [Float64Array, Float64Array] = [new Float64Array(n * n), new Float64Array(n)]
  stepped(a, b, b1, both[1])
  for (let i = 0; i < n; i++)
    for (let k = 0; k < n; k++) {
      const share = a[i * n + k]!
      for (let j = 0; j < n; j++) both[0][i * n + j]! += share * a1[k * n + j]!
    }
  return both
}
