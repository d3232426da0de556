import { describe, expect, it } from 'vitest'
import { boundedLeastSquares, solve } from '../algebra'
import { partsIn, replaceAt } from '../document'
import type { Document, Part } from '../document'
import { Graph, evaluate } from '../expression'
import type { Scalar } from '../expression'
import { checkDocument } from '../check'
import { compile, findColumn, start } from '../simulation'
import { lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { numbersOf, spread } from './index'

/** Numbers that look random, the same each time. */
function* numbers(seed: number): Generator<number, never> {
  for (let x = seed; ; x = (x * 16807) % 2147483647) yield x / 2147483647
}

/** The best of all ways to put each variable on its lower bound, its upper one or between: by trying them all. */
function byTrying(h: number[][], g: number[], least: number[], most: number[]): number[] {
  const n = g.length
  let best: { x: number[]; cost: number } | undefined
  for (let code = 0; code < 3 ** n; code++) {
    const place = g.map((_, i) => Math.floor(code / 3 ** i) % 3)
    const free = place.flatMap((where, i) => (where === 2 ? [i] : []))
    const x = place.map((where, i) => (where === 0 ? least[i]! : where === 1 ? most[i]! : 0))
    const right = free.map((i) => [g[i]! - h[i]!.reduce((sum, value, j) => sum + (free.includes(j) ? 0 : value * x[j]!), 0)])
    const inside =
      free.length === 0
        ? []
        : solve(
            free.map((i) => free.map((j) => h[i]![j]!)),
            right,
          )!
    free.forEach((i, k) => (x[i] = inside[k]![0]!))
    if (x.some((value, i) => value < least[i]! - 1e-12 || value > most[i]! + 1e-12)) continue
    const cost = x.reduce((sum, xi, i) => sum + xi * (h[i]!.reduce((s, value, j) => s + value * x[j]!, 0) / 2 - g[i]!), 0)
    if (best === undefined || cost < best.cost) best = { x, cost }
  }
  return best!.x
}

describe('least squares within bounds', () => {
  it('is the best of all ways to lie on the bounds, also where hardly anything tells them apart', () => {
    const draw = numbers(7)
    const next = () => 2 * draw.next().value - 1
    for (let round = 0; round < 60; round++) {
      const n = 5
      const m = Array.from({ length: round % 2 === 0 ? n + 1 : n - 2 }, () => Array.from({ length: n }, next))
      const h = Array.from({ length: n }, (_, i) =>
        Array.from(
          { length: n },
          (__, j) => m.reduce((sum, row) => sum + row[i]! * row[j]!, 0) + (i === j ? (round % 2 === 0 ? 0.05 : 1e-5) : 0),
        ),
      )
      const g = Array.from({ length: n }, () => 3 * next())
      const least = Array.from({ length: n }, () => -0.5 + 0.3 * next())
      const most = least.map((value) => value + 0.8)
      const free = solve(
        h,
        g.map((value) => [value]),
      )!.map(([value]) => value!)
      const found = boundedLeastSquares({ h, g, least, most, start: free }) as number[]
      expect(found).toBeNear(byTrying(h, g, least, most), { absolute: round % 2 === 0 ? 1e-9 : 1e-6 })
    }
  })
})

const lifter = lamplighter().machines.lamplighter!
const axes = ['lift', 'rollMoment', 'pitchMoment', 'yawMoment'].map((push) => `pushes.${push}`)
const rotors = Object.keys(partsIn(lifter.drives)).map((rotor) => `drives.${rotor}`)
/** Within their limits, with what counts how much. */
const limited = (counts: readonly number[]): Part =>
  replaceAt(lifter, 'allocations.rotors', {
    ...{ kind: 'withinLimits', pushes: axes.join(' '), drives: rotors.join(' '), counts: [counts] },
  })
const within = limited([1, 30, 30, 0.3])
const speedsOf = (machine: Part, pushes: readonly Scalar[]) => {
  const given = spread(machine, numbersOf(machine), (push) => pushes[axes.indexOf(push)]!, true)
  return rotors.map((rotor) => given.get(rotor)!)
}
const squares = (speeds: readonly unknown[]) => (speeds as number[]).map((speed) => Math.sign(speed) * speed * speed)

/** What the rotors then give: lift and moments, by the mix turned round. */
function given(speeds: readonly unknown[]): number[] {
  const each = axes.map((_, axis) => squares(speedsOf(lifter, axes.map((__, i) => (i === axis ? 1 : 0))))) // prettier-ignore
  // thrusts of the mix span the row space: least squares for what they add up to
  const gram = each.map((a) => each.map((b) => a.reduce((sum, value, i) => sum + value * b[i]!, 0)))
  const right = each.map((a) => [squares(speeds).reduce((sum, value, i) => sum + value * a[i]!, 0)])
  return solve(gram, right)!.map(([value]) => value!)
}

describe('allocation within the limits of the rotors', () => {
  it('is the plain mix where they can give all', () => {
    const pushes = [33, 0.4, -0.3, 0.1]
    expect(speedsOf(within, pushes) as number[]).toBeNear(speedsOf(lifter, pushes) as number[], { relative: 1e-6 })
  })

  it('keeps roll and pitch where lift and yaw must give way', () => {
    const most = 890
    const pushes = [150, 3, 0, 1]
    const speeds = speedsOf(within, pushes) as number[]
    for (const speed of speeds) expect(speed).toBeLessThanOrEqual(most * (1 + 1e-12))
    const [lift, roll] = given(speeds)
    expect(lift).toBeLessThan(200)
    expect(roll).toBeNear(3, { relative: 0.1 })
    // a plain mix cut off at the limits loses the roll altogether
    const cut = (speedsOf(lifter, pushes) as number[]).map((speed) => Math.min(speed, most))
    expect(Math.abs(given(cut)[1]!)).toBeLessThan(0.3 * roll!)
    // and where lift counts most, it is lift that is kept
    expect(given(speedsOf(limited([1000, 1, 1, 0.3]), pushes))[0]!).toBeGreaterThan(lift! + 1)
  })

  it('is the same over expressions', () => {
    const graph = new Graph()
    const made = speedsOf(within, axes.map((_, i) => graph.slot(i))) // prettier-ignore
    for (const pushes of [
      [33, 0.4, -0.3, 0.1],
      [150, 4, -2, 0.5],
      [0, 0, 0, 0],
    ])
      expect(made.map((one) => evaluate(one, pushes))).toBeNear(speedsOf(within, pushes) as number[], { relative: 1e-12 })
  })

  it('keeps a lifter upright in a trial that asks for more lift than there is', () => {
    const hover = speedsOf(lifter, [3.4 * 9.80665, 0, 0, 0])[0] as number
    const climb = (machine: Part) => {
      const base = lamplighter()
      const weak = rotors.reduce((now, rotor) => replaceAt(now, `${rotor}.most`, 1.06 * hover), machine)
      const [name] = Object.keys(base.trials)
      const cues = {
        up: { kind: 'stepCue', loop: 'height', at: 1, by: 30 },
        east: { kind: 'stepCue', loop: 'east', at: 1.5, by: 6 },
      }
      const changed = replaceAt<Document>(replaceAt(base, 'machines.lamplighter', weak), `trials.${name}.cues`, cues)
      const document = expectDone(checkDocument(changed)).resolved
      const record = start(expectDone(compile(document, name!))).run({ trial: name!, layers: [], seed: 1 })
      const angles = ['pitch', 'roll'].map((angle) => findColumn(record, `lamplighter.readings.attitude.${angle}`)!)
      return Math.max(...angles.flatMap((column) => [...column]).map(Math.abs))
    }
    expect(climb(within)).toBeLessThan(climb(lifter))
  })
})
