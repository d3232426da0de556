import { Graph, evaluation, jacobian, jacobianAt, sub, tapeOf } from '../expression'
import type { Scalar } from '../expression'
import { done, partsIn, refusedFor } from '../document'
import type { Outcome, Part } from '../document'
import { bodilessForm, bodilessMotion, conditionsOf, designMechanism, numbersOf, runningOf, shortName } from '../machine'
import type { BodilessForm, MechanismLayers } from '../machine'
import type { StateSpace } from '../linear'
import { balance, mostUnbalanced, leastEffort } from './balance'
import type { BalanceRequest } from './balance'

export interface BodilessPoint {
  readonly form: BodilessForm
  readonly states: readonly number[]
  readonly inputs: readonly number[]
  /** Largest rate left, running states apart. */
  readonly residual: number
  /** States that run on: nothing depends on them, and their rate need not vanish. */
  readonly running: readonly string[]
  /** Rates of states and outputs that move there, by name. */
  readonly runs: Readonly<Record<string, number>>
  /** Unknowns that the equations leave open. */
  readonly open: number
  /** Inputs that share a load between them: the split is that of least effort. */
  readonly sharing: readonly string[]
  /** The exact linear form about it; outputs are all states, then the outputs of the machine. */
  readonly system: StateSpace
}

/**
 * Where a machine without bodies stays: its rates 0 (with a sample time: its next state the same), its conditions kept,
 * by Newton's method on exact derivatives: by its inputs alone where they can hold it at its start, else with the least change
 * from start and nominal values. States that nothing
 * depends on, such as a position at steady speed, may run on. Refused where nothing balances it.
 */
export function bodilessPoint(machine: Part, layers: MechanismLayers): Outcome<BodilessPoint> {
  const form = bodilessForm(machine)
  const { graph, at, slots } = motionOver(machine, layers, form)
  const [ns, all] = [form.states.length, slots.map((_, i) => i)]
  const names = [...form.states, ...form.inputs].map(({ name }) => name)
  const fixed = new Map(conditionsOf(machine).map(({ signal, value }) => [signal, value]))
  const depends = jacobian([...at.rates], all)
  const left = at.rates.map((rate, i) => (form.sampleTime === undefined ? rate : sub(rate, graph.slot(i))))
  const excused = runningOf(machine)
  const running = form.states
    .map((_, i) => i)
    .filter((i) => !fixed.has(names[i]!) && (excused.includes(names[i]!) || isIgnored(depends, i, form)))
  const outputs = form.outputs.flatMap(({ name }, i) => (fixed.has(name) ? [sub(at.outputs[i]!, fixed.get(name)!)] : []))
  const must = [...left.filter((_, i) => !running.includes(i)), ...outputs]
  const unknowns = all.filter((i) => !fixed.has(names[i]!) && !running.includes(i))
  const start = Float64Array.from(
    [...form.states.map(({ near }) => near), ...form.inputs.map(({ nominal }) => nominal)].map(
      (value, i) => fixed.get(names[i]!) ?? value,
    ),
  )
  const request: BalanceRequest = { must: tapeOf(must), unknowns, start, positions: 0, tidy: () => undefined }
  // where inputs alone can hold it where it starts, nothing else moves
  const steering = unknowns.filter((slot) => slot >= ns)
  const byInputs = balance({ ...request, unknowns: steering })
  const found = byInputs.residual < mostUnbalanced ? byInputs : balance(request)
  if (!(found.residual < mostUnbalanced)) {
    if (!Number.isFinite(found.residual)) {
      const rates = at.rates.map((rate) => evaluation(start).number(rate) as number)
      const name = form.states[rates.findIndex((rate) => !Number.isFinite(rate))]?.name ?? 'an output'
      const what = `The rate of ${name} has no finite value where the search starts.`
      return refusedFor(`states.${name}`, what, 'Look for a division by zero, or a root or logarithm of a negative number there.')
    }
    const kept = form.states.filter((_, i) => !running.includes(i))
    const worst = kept[found.worst]?.name
    const name = worst === undefined ? 'an output' : shortName(worst, machine)
    const what = `Nothing balances the machine here: ${name} keeps changing by ${Number(found.residual.toPrecision(3))}.`
    const remedy =
      fixed.size === 0
        ? 'Start from other values, or check the signs of its equations.'
        : `Let one of ${[...fixed.keys()].map((one) => shortName(one, machine)).join(', ')} go, or start from other values.`
    return refusedFor('operating point', what, remedy)
  }
  const parts = partsIn(machine.inputs)
  const efforts = steering.map((slot) => ({ slot, size: (parts[names[slot]!]?.most as number | undefined) ?? 1 }))
  const least = leastEffort(request, found, steering, efforts)
  const values = [...least.at]
  const kept = new Set([...designMechanism].filter((layer) => layers.has(layer)))
  const system = linearForm(motionOver(machine, kept, form).at, form, least.at)
  const known = evaluation(least.at)
  const movement = left.map((rate, i) => (running.includes(i) ? (known.number(rate) as number) : 0))
  const onward = system.c.map((row) => row.reduce((sum, slope, i) => sum + slope * movement[i]!, 0))
  return done({
    form,
    states: values.slice(0, ns),
    inputs: values.slice(ns),
    residual: least.residual,
    sharing: least.sharing.map((slot) => names[slot]!),
    running: running.map((i) => names[i]!),
    open: Math.max(0, unknowns.length - must.length),
    runs: Object.fromEntries(system.outputs.flatMap((name, i) => (onward[i] === 0 ? [] : [[name, onward[i]!]]))),
    system,
  })
}

function motionOver(machine: Part, layers: MechanismLayers, form: BodilessForm) {
  const graph = new Graph()
  const slots = [...form.states, ...form.inputs].map((_, i) => graph.slot(i))
  const ns = form.states.length
  return { graph, slots, at: bodilessMotion(machine, numbersOf(machine), layers, slots.slice(0, ns), slots.slice(ns)) }
}

/**
 * Nothing depends on the state (sampled, its own next value only by carrying it on), and its rate is that of other states
 * alone: a place, a heading. A state that an input moves must balance.
 */
function isIgnored(depends: readonly (readonly Scalar[])[], state: number, { sampleTime, states }: BodilessForm): boolean {
  const own = depends[state]!
  const follows = own.some((slope, j) => j !== state && j < states.length && slope !== 0)
  const steered = own.some((slope, j) => j >= states.length && slope !== 0)
  return follows && !steered && depends.every((row, i) => row[state] === (sampleTime !== undefined && i === state ? 1 : 0))
}

function linearForm(
  { rates, outputs }: { readonly rates: readonly Scalar[]; readonly outputs: readonly Scalar[] },
  form: BodilessForm,
  at: Float64Array,
): StateSpace {
  const [ns, nu] = [form.states.length, form.inputs.length]
  const slopes = jacobianAt([...rates, ...outputs], [...Array(ns + nu).keys()], at)
  const upper = form.states.map((_, i) => form.states.map((__, j) => (i === j ? 1 : 0)))
  const [byRate, byOutput] = [slopes.slice(0, ns), slopes.slice(ns)]
  const states = form.states.map(({ name }) => name)
  return {
    a: byRate.map((row) => row.slice(0, ns)),
    b: byRate.map((row) => row.slice(ns)),
    c: [...upper, ...byOutput.map((row) => row.slice(0, ns))],
    d: [...upper.map(() => new Array<number>(nu).fill(0)), ...byOutput.map((row) => row.slice(ns))],
    dt: form.sampleTime ?? null,
    states,
    inputs: form.inputs.map(({ name }) => name),
    outputs: [...states, ...form.outputs.map(({ name }) => name)],
  }
}
