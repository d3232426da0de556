import { done, refusedFor } from '../document'
import type { Document, Outcome, Part } from '../document'
import {
  commandedLoop,
  edgeOfSwinging,
  feedforwards,
  followWithin,
  innerLoops,
  lawOf,
  linearMachine,
  loop,
  measuredDisturbance,
  plantOf,
  pushOf,
  requirement,
  typedGains,
} from '../control'
import { findKind, valuesOf } from '../kinds'
import { movedOutputs } from '../linear'
import type { StateSpace } from '../linear'
import { designLayers } from '../machine'
import type { AnyLayer } from '../machine'
import { cascadedPlant } from './cascade'
import type { ClosedLoop } from './cascade'
import { designForward } from './forward'
import type { ForwardDesign } from './forward'
import { loopModel } from './loopModel'
import type { Gains, LoopModel, LoopValues } from './loopModel'
import { tuneByTimeConstant, tuneByUltimateGain } from './methods'
import { tune } from './tune'
import type { Tuned } from './tune'

/** A loop of a document with its model, its gains and what its feedforward leaves. */
export interface LoopDesign {
  readonly values: LoopValues
  readonly model: LoopModel
  readonly gains: Gains
  /** Push at the operating point, in units of the push: the weight for lift, what the commanded loop holds there. */
  readonly nominalPush: number
  /** The held quantity at the operating point. */
  readonly nominalHeld: number
  /** What it carries beforehand. */
  readonly forward: ForwardDesign
}

/** The model of a loop whose gains are yet to be found. */
export function modelOfLoop(document: Document, name: string): Outcome<{ values: LoopValues; model: LoopModel; machine: Part }> {
  const part = document.loops[name]
  if (part === undefined)
    return refusedFor(
      `loops.${name}`,
      `There is no loop named ${name}.`,
      `Known loops: ${Object.keys(document.loops).join(', ')}.`,
    )
  const values = valuesOf(loop, part)
  const machine = document.machines[values.machine]
  if (machine === undefined) {
    return refusedFor(
      `loops.${name}.machine`,
      `There is no machine named ${values.machine}.`,
      `Known machines: ${Object.keys(document.machines).join(', ')}.`,
    )
  }
  const law = lawOf(part)
  const layers = designLayers(machine)
  const inside = loopsInside(document, name)
  if (inside.kind === 'refused') return inside
  const seen = (which: ReadonlySet<AnyLayer>) => plantSeen(machine, which, values, inside.value)
  const plant = seen(layers.all)
  if (plant.kind === 'refused') return plant
  const machineOnly = seen(layers.withoutLag)
  if (machineOnly.kind === 'refused') return machineOnly
  if (!movedOutputs(plant.value, 0).includes(0)) {
    return refusedFor(
      `loops.${name}.pushes`,
      `${pushOf(document, part)?.label ?? values.pushes} does not move ${values.holds} about the operating point.`,
      'Choose a push that moves what is held.',
    )
  }
  const { dt } = plant.value
  if (dt !== null && Math.abs(dt * values.rate - 1) > sameRate) {
    const what = `The machine is a sampled one, every ${dt} s; the loop runs ${values.rate} times a second.`
    return refusedFor(
      `loops.${name}.rate`,
      what,
      `Give ${Number((1 / dt).toPrecision(9))} Hz, or a continuous model of the machine.`,
    )
  }
  return done({ values, machine, model: loopModel(law, plant.value, machineOnly.value, values.rate, values.delay) })
}

/** The designs of all loops that a loop commands, one through the other. */
function loopsInside(document: Document, name: string): Outcome<readonly ClosedLoop[]> {
  const inside: ClosedLoop[] = []
  for (const inner of innerLoops(document, name)) {
    const design = designLoop(document, inner)
    if (design.kind === 'refused') return design
    inside.push(design.value)
  }
  return done(inside)
}

/** What a loop sees: the machine alone, or with the loops inside closed. */
function plantSeen(
  machine: Part,
  layers: ReadonlySet<AnyLayer>,
  { pushes, holds, rate }: LoopValues,
  inside: readonly ClosedLoop[],
): Outcome<StateSpace> {
  if (inside.length === 0) return plantOf(machine, layers, pushes, holds)
  const linear = linearMachine(machine, layers)
  if (linear.kind === 'refused') return linear
  return done(cascadedPlant({ machine, system: linear.value.system, inside, holds, rate }))
}

/** By document, which nobody changes in place: ladder, charts and course ask for the same designs after one edit. */
const designs = new WeakMap<Document, Map<string, Outcome<LoopDesign>>>()

/** Gains from the loop's requirement, or as typed. */
export function designLoop(document: Document, name: string): Outcome<LoopDesign> {
  let mine = designs.get(document)
  if (mine === undefined) designs.set(document, (mine = new Map()))
  const known = mine.get(name)
  if (known !== undefined) return known
  const made = designed(document, name)
  mine.set(name, made)
  return made
}

function designed(document: Document, name: string): Outcome<LoopDesign> {
  const found = modelOfLoop(document, name)
  if (found.kind === 'refused') return found
  const { values, model, machine } = found.value
  const gains = gainsOf(model, values.tuning, name)
  if (gains.kind === 'refused') return gains
  const linear = linearMachine(machine, designLayers(machine).all)
  if (linear.kind === 'refused') return linear
  const { pushes, held } = linear.value.operatingPoint
  const inner = document.loops[commandedLoop(values.pushes) ?? '']
  const nominalPush = inner === undefined ? pushes[values.pushes]! : held[inner.holds as string]!
  const nominalHeld = held[values.holds]!
  const refused = forwardRefusal(name, document.loops[name]!, model.machineOnly, linear.value.system)
  if (refused !== undefined) return refused
  const forward = designForward({
    ...{ document, name, plant: model.machineOnly, operatingPoint: linear.value.operatingPoint, nominalPush },
    ...{ commandsAnother: inner !== undefined, dt: model.dt },
  })
  return done({ values, model, gains: gains.value, nominalPush, nominalHeld, forward })
}

/** A feedforward that this plant does not allow: an inverse that would be unstable, a disturbance that the push moves. */
function forwardRefusal(name: string, loop: Part, plant: StateSpace, system: StateSpace): Outcome<never> | undefined {
  for (const [own, part] of Object.entries((loop.feedforwards ?? {}) as Readonly<Record<string, Part>>)) {
    if (part.on !== true) continue
    const where = `loops.${name}.feedforwards.${own}`
    const found = findKind(feedforwards, part)?.refusal?.(plant)
    if (found !== undefined) return refusedFor(where, found.what, found.remedy)
    if (part.kind !== measuredDisturbance.name) continue
    const moved = movedOutputs(system, system.inputs.indexOf(loop.pushes as string)).map((i) => system.outputs[i]!)
    if (moved.includes(part.signal as string))
      return refusedFor(
        `${where}.signal`,
        `${loop.pushes as string} moves ${part.signal as string}: taking it as a disturbance would be feedback.`,
        'Choose a signal that the push does not move.',
      )
  }
  return undefined
}

/** Relative: rates are typed as whole numbers, sample times as decimals. */
const sameRate = 1e-9

function gainsOf(model: LoopModel, tuning: Part, name: string): Outcome<Gains> {
  if (tuning.kind === typedGains.name) {
    const { kp, ki, kd } = valuesOf(typedGains, tuning)
    return done({ kp, ki, kd })
  }
  const tuned = tunedBy(model, tuning)
  if (tuned.kind === 'tuned') return done(tuned.gains)
  return refusedFor(`loops.${name}.tuning`, tuned.what, tuned.remedy)
}

function tunedBy(model: LoopModel, tuning: Part): Tuned {
  switch (tuning.kind) {
    case followWithin.name:
      return tuneByTimeConstant(model, valuesOf(followWithin, tuning).timeConstant)
    case edgeOfSwinging.name:
      return tuneByUltimateGain(model)
    default:
      return tune(model, valuesOf(requirement, tuning))
  }
}
