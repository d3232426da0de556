import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { checkDocument } from '@calm-hand/core'
import { partsIn, replaceAt } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import {
  Graph,
  add,
  assign,
  call,
  isNode,
  jacobianAt,
  less,
  loadModule,
  printTwin,
  printWasm,
  repeatWhile,
  set,
} from '@calm-hand/core/expression'
import type { Code, LoadedModule, NumberNode, Procedure, Scalar } from '@calm-hand/core/expression'
import {
  assemble,
  closeChains,
  designMechanism,
  forwardDynamics,
  forwardDynamicsDerivatives,
  fullMechanism,
  mechanismForm,
  mechanismMotion,
  numbersOf,
  positionRates,
} from '@calm-hand/core/machine'
import type { Assembly } from '@calm-hand/core/machine'
import { Layout, equationSlots, freeProgram, rungeKutta4, slotOf } from '@calm-hand/core/simulation'
import { plainBodies } from '../../core/tests/plainBodies'
import { plainForwardDynamics } from '../../core/tests/plainDynamics'
import { timedC } from './timedC'

export type Row = [figure: string, value: string, reach: string]

const rounds = 14
const stepsPerRun = 4000

/** Figures of the engine on the demo's arm (6 freedoms) and walker (25). */
export function mechanismRows(least: (rounds: number, action: (round: number) => void) => number): Row[] {
  const [arm, walker] = [machineOf('boat-shed-arm'), machineOf('rock-walker')]
  const rows: Row[] = []
  const counts = [arm, walker].map((machine) => operations(machine))
  rows.push(['operations of forward dynamics, arm / walker', counts.join(' / '), '<= 1750 / 6900'])

  const fused = new Fused(arm)
  const ratios = fused.againstC(['-O2', '-O3 -march=native'])
  rows.push(['arm: fused Runge-Kutta in WebAssembly over gcc -O2', ratios[0]!.toFixed(2), '<= 1.25'])
  rows.push(['the same over gcc -O3 -march=native', ratios[1]!.toFixed(2), '<= 1.8'])

  rows.push(['two states at once (f64x2) against one, throughput on the arm', fused.twinThroughput().toFixed(2), '>= 1.4'])

  const { forward, derivatives, plain } = evaluationTimes(arm, least)
  rows.push(['loop-based TypeScript over ours, forward dynamics of the arm', (plain / forward).toFixed(0), '>= 10'])
  rows.push(['full Jacobian (18 columns) over one forward dynamics, arm', (derivatives / forward).toFixed(1), '<= 4.5'])

  for (const [name, machine, reach] of [
    ['arm', arm, 60],
    ['walker', walker, 250],
  ] as const) {
    const kept = closeChains(machine)
    const time = least(8, (round) => {
      const [first] = Object.keys(partsIn(machine.bodies))
      const edited = replaceAt(machine, `bodies.${first}.mass`, 15 + round / 100)
      const program = freeProgram(edited, fullMechanism, kept.kind === 'closed' ? kept.kept : [])
      program.run({ start: program.states.map(({ atRest }) => atRest), inputs: [], until: 0.001, step: 0.001, every: 1 })
    })
    rows.push([`edit of the ${name} to its first result`, `${time.toFixed(0)} ms`, `<= ${reach} ms`])
  }
  rows.push(['linearization of the walker after compile', `${linearized(walker, least).toFixed(0)} ms`, '<= 50 ms'])
  return rows
}

/** Exact derivatives of all its equations by all states and inputs, at the pose where it starts. */
function linearized(machine: Part, least: (rounds: number, action: (round: number) => void) => number): number {
  const graph = new Graph()
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const slots = [...form.states, ...form.inputs].map((_, i) => graph.slot(i))
  const count = form.states.length
  const { rates } = mechanismMotion(machine, read, designMechanism, form, slots.slice(0, count), slots.slice(count), [])
  const at = [...form.states.map(({ atRest }) => atRest), ...form.inputs.map(() => 0)]
  return least(30, () =>
    jacobianAt(
      rates,
      slots.map((_, i) => i),
      at,
    ),
  )
}

function machineOf(name: string): Part {
  const checked = checkDocument(JSON.parse(readFileSync(join(process.cwd(), `demo/${name}.json`), 'utf8')))
  if (checked.kind === 'refused') throw new Error(`${name} has problems.`)
  return Object.values(checked.value.resolved.machines)[0]!
}

/** Positions, speeds and efforts as slots; the machine's numbers as constants. */
function slotted(machine: Part): {
  graph: Graph
  layout: Layout
  assembly: Assembly
  q: NumberNode[]
  speeds: NumberNode[]
  efforts: NumberNode[]
} {
  const graph = new Graph()
  const layout = new Layout(graph)
  const assembly = assemble(machine, numbersOf(machine))
  const [q, speeds, efforts] = [
    layout.many(assembly.positions.length),
    layout.many(assembly.speeds.length),
    layout.many(assembly.speeds.length),
  ]
  return { graph, layout, assembly, q, speeds, efforts }
}

/** Operations after sharing and folding. */
function operations(machine: Part): number {
  const { assembly, q, speeds, efforts } = slotted(machine)
  const seen = new Set<unknown>()
  const pending: unknown[] = [...forwardDynamics(assembly.tree, { q, speeds }, efforts)]
  let count = 0
  while (pending.length > 0) {
    const next = pending.pop() as Scalar
    if (!isNode(next) || seen.has(next)) continue
    seen.add(next)
    if (next.operation !== 'slot') count++
    pending.push(...next.operands)
  }
  return count
}

/** A whole run of Runge-Kutta steps in one call, as WebAssembly and as C. */
class Fused {
  private readonly code: Code
  private readonly start: number[]
  private readonly state: number
  private readonly left: number

  constructor(machine: Part) {
    const { layout, assembly, efforts } = slotted(machine)
    const [nq, nv] = [assembly.positions.length, assembly.speeds.length]
    const equation = equationSlots(layout, nq + nv)
    const left = layout.one()
    const state = { q: equation.stage.slice(0, nq), speeds: equation.stage.slice(nq) }
    const rates = [...positionRates(assembly.tree, state), ...forwardDynamics(assembly.tree, state, efforts)]
    const derivative: Procedure = {
      name: 'derivative',
      body: [assign(equation.slope.map((node, i) => ({ slot: slotOf(node), value: rates[i]! })))],
    }
    const run: Procedure = {
      name: 'run',
      body: [repeatWhile(less(0, left), [call('rk4'), set(slotOf(left), add(left, -1))])],
    }
    const step = rungeKutta4(layout, equation, 1e-4)
    this.code = { slots: layout.slots, procedures: [derivative, step, run] }
    this.start = [...assembly.start, ...assembly.speeds.map(() => 0)]
    this.state = slotOf(equation.x[0]!)
    this.left = slotOf(left)
  }

  /** Ratios of minima over interleaved rounds. */
  againstC(flags: readonly string[]): number[] {
    const bins = flags.map((flag) => this.compiled(flag))
    const loaded = loadModule(printWasm(this.code))
    const memory = loaded.memory()
    let wasm = Infinity
    const best = flags.map(() => Infinity)
    for (let round = 0; round < rounds; round++) {
      for (let k = 0; k < 12; k++) {
        memory.set(this.start, this.state)
        memory[this.left] = stepsPerRun
        const began = performance.now()
        loaded.call('run')
        wasm = Math.min(wasm, performance.now() - began)
      }
      bins.forEach((bin, i) => (best[i] = Math.min(best[i]!, Number(execFileSync(bin, ['12'], { encoding: 'utf8' })))))
    }
    return best.map((c) => wasm / c)
  }

  /** Steps a second of two states in one run over those of one. */
  twinThroughput(): number {
    const [one, two] = [loadModule(printWasm(this.code)), loadModule(printTwin(this.code))]
    const best = [Infinity, Infinity]
    const timed = (module: LoadedModule, lanes: 1 | 2) => {
      const memory = module.memory()
      for (let lane = 0; lane < lanes; lane++) {
        this.start.forEach((value, i) => (memory[lanes * (this.state + i) + lane] = value * (1 + 0.01 * lane)))
        memory[lanes * this.left + lane] = stepsPerRun
      }
      const began = performance.now()
      module.call('run')
      best[lanes - 1] = Math.min(best[lanes - 1]!, performance.now() - began)
    }
    for (let round = 0; round < 12 * rounds; round++) {
      timed(one, 1)
      timed(two, 2)
    }
    return (2 * best[0]!) / best[1]!
  }

  private compiled(flags: string): string {
    const settings = this.start.map((value, i) => `m[${this.state + i}] = ${value};`).join(' ')
    return timedC(this.code, { more: 0, before: `${settings} m[${this.left}] = ${stepsPerRun};` }, flags)
  }
}

/** ms for one evaluation each of forward dynamics, of its full Jacobian, and of the plain algorithm. */
function evaluationTimes(
  machine: Part,
  least: (rounds: number, action: () => void) => number,
): Record<'forward' | 'derivatives' | 'plain', number> {
  const { layout, assembly, q, speeds, efforts } = slotted(machine)
  const n = speeds.length
  const left = layout.one()
  const accelerations = forwardDynamics(assembly.tree, { q, speeds }, efforts)
  const { byPosition, bySpeed, byEffort } = forwardDynamicsDerivatives(assembly.tree, q, speeds, accelerations)
  // column by column, as they are computed: a position with its speed, efforts two by two
  const jacobian = [
    ...speeds.flatMap((_, j) => speeds.flatMap((__, i) => [byPosition[i]![j]!, bySpeed[i]![j]!])),
    ...speeds.flatMap((_, j) => (j % 2 === 1 ? [] : speeds.flatMap((__, i) => byEffort[i]!.slice(j, j + 2)))),
  ]
  const program = (name: string, values: readonly Scalar[]): Procedure[] => {
    const out = layout.many(values.length)
    return [
      { name, body: [assign(out.map((node, i) => ({ slot: slotOf(node), value: values[i]! })))] },
      { name: `${name}s`, body: [repeatWhile(less(0, left), [call(name), set(slotOf(left), add(left, -1))])] },
    ]
  }
  const procedures = [...program('forward', accelerations), ...program('jacobian', [...accelerations, ...jacobian])]
  const module = loadModule(printWasm({ slots: layout.slots, procedures }))
  const memory = module.memory()
  const values = [...q, ...speeds, ...efforts].map((_, i) => 0.3 + 0.1 * i)
  memory.set(values)
  const many = 4000
  const timed = (procedure: string) =>
    least(60, () => {
      memory[slotOf(left)] = many
      module.call(procedure)
    }) / many
  const bodies = plainBodies(assembly.tree, machine)
  const few = 300
  const plain =
    least(30, () => {
      for (let k = 0; k < few; k++)
        plainForwardDynamics(bodies, [0, 0, -9.80665], values.slice(0, n), values.slice(n, 2 * n), values.slice(2 * n))
    }) / few
  return { forward: timed('forwards'), derivatives: timed('jacobians'), plain }
}
