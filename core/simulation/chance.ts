import type { Assignment, NumberNode, Scalar } from '../expression'
import { partsIn, replaceAt } from '../document'
import type { Part } from '../document'
import { findKind } from '../kinds'
import { outsideOf, surroundings } from '../machine'
import type { AnyLayer, Read } from '../machine'
import { slotOf } from './layout'
import type { Layout } from './layout'
import { normalPair } from './noise'

/** The procedure that takes what goes on by chance from tick to tick. */
export const chanceBlock = 'chance'

/** Streams of noise that lie beside those of sensors, estimators and faults. */
const firstStream = 2_097_152

/** What is around a machine and goes on by chance: turbulence. */
export interface ChanceAround {
  /** The machine with numbers for what goes on around it. */
  readonly machine: Part
  /** Reads those numbers besides all others. */
  readonly read: (plain: Read) => Read
  /** What is worked out at every tick. */
  readonly values: readonly Assignment[]
  /** What it starts with, each after what it is worked out from. */
  readonly first: readonly Assignment[]
}

interface ChanceContext {
  readonly layers: ReadonlySet<AnyLayer>
  readonly layout: Layout
  readonly seed: Scalar
  readonly tick: NumberNode
  /** s from tick to tick. */
  readonly seconds: number
  /** Numbers of the simulated machine as they are at the start of a tick. */
  readonly known: Read
}

/** Turbulence and its like around a simulated machine, each with its memory; nothing where their layers are off. */
export function chanceAround(machine: Part, context: ChanceContext): ChanceAround {
  const { layout, layers, seed, tick, seconds, known } = context
  const nodes = new Map<string, Scalar>()
  const values: Assignment[] = []
  const first: Assignment[] = []
  let changed = machine
  Object.entries(partsIn(machine.surroundings)).forEach(([name, part], at) => {
    const kind = findKind(surroundings, part)
    if (kind?.chance === undefined || kind.layers?.every((layer) => layers.has(layer.name as AnyLayer)) !== true) return
    const path = `surroundings.${name}`
    const { chance } = kind
    const memory = layout.many(chance.memory)
    const now = layout.many(3)
    const outside = outsideOf(part, path, known, { time: 0, gravity: 0 })
    const noise = (of: Scalar) =>
      memory.flatMap((_, i) => (i % 2 === 0 ? normalPair(seed, firstStream + 16 * at + i / 2, of) : []))
    const next = chance.step(outside, memory, noise(tick), seconds)
    // before the first tick, of which the noise is that of tick 0
    const start = chance.start(outside, noise(-1))
    memory.forEach((node, i) => {
      values.push({ slot: slotOf(node), value: next[i]! })
      first.push({ slot: slotOf(node), value: start[i]! })
    })
    chance.now(outside, next).forEach((value, i) => values.push({ slot: slotOf(now[i]!), value }))
    now.forEach((node) => first.push({ slot: slotOf(node), value: 0 }))
    now.forEach((node, i) => nodes.set(`${path}.now.${i}`, node))
    changed = replaceAt(changed, `${path}.now`, [1, 1, 1])
  })
  return { machine: changed, read: (plain) => (where) => nodes.get(where) ?? plain(where), values, first }
}
