import { tiltAt } from '../algebra'
import type { Part } from '../document'
import { Graph, jacobianAt } from '../expression'
import { names } from '../linear'
import { designLayers, heldQuantities } from '../machine'
import type { VectorComponent } from '../machine'
import type { LinearEstimator } from './estimators'
import { linearMachine } from './plant'

/** Nobody tells a tilt: it follows from the attitude that sensors, or estimators, tell; what none of them tells is true. */
export function tiltTold(machine: Part, eyes: readonly LinearEstimator[]): readonly LinearEstimator[] {
  const tilts = heldQuantities(machine).flatMap(({ name, vector }) => (vector === undefined ? [] : [{ name, vector }]))
  return [true, undefined].flatMap((ofSensor) => {
    const own = eyes.filter((eye) => eye.ofSensor === ofSensor)
    return tilts.flatMap(({ name, vector }) => {
      const told = vector.attitude.map((angle) => own.filter(({ estimated }) => estimated.includes(angle)).at(-1))
      // what is told more often than the rest is as good as true
      const dt = Math.max(...told.map((eye) => eye?.system.dt ?? 0))
      if (dt === 0) return []
      const parts = told.map((eye, i) => (eye?.system.dt === dt ? eye : asItIs(vector.attitude[i]!, dt)))
      return [{ ...joined(parts, vector.attitude, tiltShares(machine, vector), name), ...(ofSensor && { ofSensor }) }]
    })
  })
}

/** How a tilt moves with roll, pitch and heading where its machine works. */
function tiltShares(machine: Part, { attitude, component }: VectorComponent): readonly number[] {
  const linear = linearMachine(machine, designLayers.all)
  const at = attitude.map((angle) => (linear.kind === 'done' ? (linear.value.operatingPoint.held[angle] ?? 0) : 0))
  const graph = new Graph()
  const tilt = tiltAt({ roll: graph.slot(0), pitch: graph.slot(1), heading: graph.slot(2) })[component]
  return jacobianAt([tilt], [0, 1, 2], at)[0]!
}

/** One that tells a quantity as it truly is. */
export function asItIs(quantity: string, dt: number): LinearEstimator {
  const system = { a: [], b: [], c: [[]], d: [[1]], dt, ...names(0, 1, 1) }
  return { reads: [quantity], knowsPushes: false, estimated: [quantity], system }
}

/** One that tells the sum of shares of what several tell. */
function joined(
  parts: readonly LinearEstimator[],
  quantities: readonly string[],
  shares: readonly number[],
  estimated: string,
): LinearEstimator {
  const all = [...new Set(parts)]
  const pushes = Math.max(...all.map(({ reads, system }) => system.inputs.length - reads.length))
  const [states, reads] = [all.map(({ system }) => system.a.length), all.map((one) => one.reads.length)]
  const spread = (part: number, counts: readonly number[], row: readonly number[]) =>
    counts.flatMap((count, i) => (i === part ? row.slice(0, count) : new Array<number>(count).fill(0)))
  const given = (part: number, row: readonly number[]) => [
    ...spread(part, reads, row),
    ...Array.from({ length: pushes }, (_, i) => row[reads[part]! + i] ?? 0),
  ]
  /** A row of what is told, of states or of what goes in. */
  const told = (of: 'c' | 'd') =>
    quantities
      .map((quantity, i) => {
        const part = all.indexOf(parts[i]!)
        const { estimated: own, system } = all[part]!
        const row = system[of][own.indexOf(quantity)]!.map((value) => value * shares[i]!)
        return of === 'c' ? spread(part, states, row) : given(part, row)
      })
      .reduce((sum, row) => sum.map((value, j) => value + row[j]!))
  const count = states.reduce((sum, one) => sum + one, 0)
  const inputs = reads.reduce((sum, one) => sum + one, pushes)
  return {
    reads: all.flatMap((one) => one.reads),
    knowsPushes: pushes > 0,
    estimated: [estimated],
    system: {
      a: all.flatMap(({ system }, part) => system.a.map((row) => spread(part, states, row))),
      b: all.flatMap(({ system }, part) => system.b.map((row) => given(part, row))),
      c: [told('c')],
      d: [told('d')],
      dt: all[0]!.system.dt,
      ...names(count, inputs, 1),
    },
  }
}
