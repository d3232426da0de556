import type { Assignment, NumberNode, Scalar } from '../expression'
import { done, refusedFor } from '../document'
import type { Document, Outcome, Part } from '../document'
import {
  askedNames,
  bodilessForm,
  bodilessMotion,
  closeChains,
  effectInputs,
  heldQuantities,
  isBodiless,
  mechanismForm,
  mechanismMotion,
  shortName,
  spread,
} from '../machine'
import type { MechanismLayers, ShownSignal } from '../machine'
import { slotOf } from './layout'
import { bodilessShown, linearSpread, partlyLinear } from './partlyLinear'
import type { Moment, MotionWith } from './partlyLinear'
import type { FamilyPlace } from './record'
import { startingRest } from './startingRest'
import type { StartingRest } from './startingRest'
import { estimatorBlocks } from './estimatorBlocks'
import { mechanismSensorBlocks, sensorsRead } from './mechanismSensorBlocks'
import type { ObservedPlant, PlantContext, RestRead, ShownColumn, TrialPlant } from './trialPlant'

/** Equations of a machine with what is worth recording. */
interface Equations {
  readonly names: readonly string[]
  readonly units: readonly string[]
  readonly sampleTime: number | undefined
  readonly inputs: readonly string[]
  readonly keptRows: readonly number[]
  readonly with: MotionWith
}

/** A mechanism or a machine without bodies: loops push its inputs; it starts where it rests. */
export function plainPlant(document: Document, machine: Part, context: PlantContext): Outcome<TrialPlant> {
  const { name, layout } = context
  const equations = isBodiless(machine) ? bodilessEquations(machine, context) : mechanismEquations(context.trueMachine, context)
  if (equations.kind === 'refused') return equations
  const { names, units, inputs, sampleTime } = equations.value
  const rest = startingRest(document, name)
  if (rest.kind === 'refused') return rest
  const at = movedAs(equations.value, rest.value, context)
  const { pushes } = rest.value
  const rests = restIn(context, rest.value)
  // what holds it is the engineer's to override, so it lives in memory
  const asks = isBodiless(machine) ? inputs : askedNames(machine)
  const holding = new Map<string, Scalar>(
    asks.map((push) => [push, context.parameter(`rest.${name}.${push}`, pushes[push] ?? 0)]),
  )
  // drives, then the pushes that are spread over them, which observers know
  const askedOf = [...inputs, ...asks.filter((push) => !inputs.includes(push))]
  const limited = (context.layers as MechanismLayers).has('driveLimits')
  const spreadOver = (value: (push: string) => Scalar): ReadonlyMap<string, Scalar> => {
    if (isBodiless(machine)) return new Map()
    if (context.asPredicted?.machine === true) return linearSpread(machine, rest.value, value)
    return spread(machine, context.known, value, limited)
  }
  const ask = (given: ReadonlyMap<string, Scalar>) => {
    const value = (push: string) => given.get(push) ?? holding.get(push)!
    const through = spreadOver(value)
    return askedOf.map((one) => through.get(one) ?? value(one))
  }
  const quantities = heldQuantities(machine)
  let truth: ReadonlyMap<string, NumberNode> = new Map()
  const observe = (x: readonly Scalar[], asked: readonly Scalar[], time: Scalar): ObservedPlant => {
    const values: Assignment[] = []
    const columns: ShownColumn[] = []
    const looks = context.looks.of()
    const { shown: signals } = at(x, asked.slice(0, inputs.length), time, looks)
    const told = new Set(signals.map(({ name: one }) => one))
    // a signal of the same name says what acts: of a current that follows at once the state stands still
    const states = names.map((one, i): ShownSignal => ({
      name: one,
      label: shortName(one, machine),
      unit: units[i]!,
      value: x[i]!,
    }))
    const shown = [...states.filter(({ name: one }) => !told.has(one)), ...signals]
    const kept = new Map(
      shown.map((one) => {
        const node = layout.one()
        values.push({ slot: slotOf(node), value: one.value })
        const quantity = quantities.find((held) => held.name === one.name)
        columns.push({
          name: `${name}.${one.name}`,
          label: quantity?.label ?? one.label,
          unit: one.unit,
          role: 'actual',
          ...(quantity?.angle === undefined ? {} : { angle: quantity.angle }),
          ...(one.alike === undefined ? {} : { family: familyPlace(name, one.alike) }),
          value: node,
        })
        return [one.name, node] as const
      }),
    )
    // what allocation makes of pushes
    const through = effectInputs(machine).filter(({ name: drive }) => !asks.includes(drive))
    for (const { name: drive, unit } of through)
      columns.push({
        ...{ name: `${name}.${drive}.asked`, label: `${shortName(drive, machine)} asked`, unit, role: 'command' },
        value: asked[inputs.indexOf(drive)]!,
      })
    truth = kept
    return { truth: kept, values, columns, before: looks.before() }
  }
  return done({
    stateNames: names,
    askedCount: askedOf.length,
    inputs,
    sampleTime,
    rates: (x, asked, time) => {
      const looks = context.looks.of()
      return { rates: at(x, asked.slice(0, inputs.length), time, looks).rates, before: looks.before() }
    },
    observe,
    sensors: (timing) => {
      const asked = asks.map((push) => timing.asked[askedOf.indexOf(push)]!)
      const all = { ...context, ...timing, asked, machine }
      const { result, sensors } = mechanismSensorBlocks({
        ...all,
        ...{ sensors: sensorsRead(document, name), exact: truth, rest: rests },
      })
      const errs = (context.layers as MechanismLayers).has('sensorErrors')
      estimatorBlocks({ ...all, document, truth, rest: rests, sensors, errs }, result)
      return result
    },
    ask,
    holding,
    rest: rests,
    startStates: names.map((one) => rests.state(one) ?? 0),
    startAsked: ask(new Map()),
  })
}

/** Where it rests, in memory as far as somebody asks: another number of the machine starts it elsewhere, and is no other program. */
function restIn({ name, parameter }: PlantContext, { states, held }: Pick<StartingRest, 'states' | 'held'>): RestRead {
  const known = new Map<string, Scalar>()
  const kept = (group: 'states' | 'held', values: Readonly<Record<string, number>>) => (one: string) => {
    const value = values[one]
    const path = `rest.${name}.${group}.${one}`
    const place = value === undefined ? undefined : (known.get(path) ?? parameter(path, value))
    if (place !== undefined) known.set(path, place)
    return place
  }
  return { state: kept('states', states), held: kept('held', held), number: (quantity) => held[quantity] }
}

/** The motion under the layers of the trial, as far as it is not to be as the prediction has it. */
function movedAs(
  { with: motion, keptRows }: Equations,
  rest: StartingRest,
  { layers, asPredicted, atRest, truth }: PlantContext,
) {
  const on = layers as MechanismLayers
  if (asPredicted !== undefined) return partlyLinear({ machine: atRest, keptRows, rest, motion, truth }, asPredicted, on)
  return (...given: Moment) => motion(on, ...given)
}

function bodilessEquations(machine: Part, { truth }: PlantContext): Outcome<Equations> {
  const form = bodilessForm(machine)
  return done({
    names: form.states.map((state) => state.name),
    units: form.states.map(({ unit }) => unit),
    sampleTime: form.sampleTime,
    inputs: form.inputs.map((input) => input.name),
    keptRows: [],
    with: (layers, x, asked, time) => bodilessShown(machine, bodilessMotion(machine, truth(time), layers, x, asked, time)),
  })
}

function mechanismEquations(machine: Part, { truth }: PlantContext): Outcome<Equations> {
  const closure = closeChains(machine)
  if (closure.kind === 'open')
    return refusedFor(`chains.${closure.chain}`, 'The chains do not close here.', 'Start from another pose.')
  const first = truth(0)
  const form = mechanismForm(machine, first)
  return done({
    names: form.states.map((state) => state.name),
    units: form.states.map(({ unit }) => unit),
    sampleTime: undefined,
    inputs: form.inputs.map((input) => input.name),
    keptRows: closure.kept,
    with: (layers, x, asked, time, looking) => {
      const read = truth(time)
      const now = read === first ? form : mechanismForm(machine, read)
      const moved = mechanismMotion(machine, read, layers, now, x, asked, closure.kept, time, looking)
      // signals are made where they are looked at: building them costs more than running them
      return {
        rates: moved.rates,
        get shown() {
          return moved.signals
        },
      }
    },
  })
}

/** The place of a signal among those that other parts of the machine show alike. */
function familyPlace(machine: string, { name, label, part }: NonNullable<ShownSignal['alike']>): FamilyPlace {
  return { name: `${machine}.${name}`, label, over: 'part', at: part }
}
