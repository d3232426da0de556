import { done, findAt, refusedFor } from '../document'
import type { Document, Outcome, Part } from '../document'
import { laws, linearMachine, loop, plantOf, requirement, typedGains } from '../control'
import { findKind, valuesOf } from '../kinds'
import type { ValuesOf } from '../kinds'
import { movedOutputs } from '../linear'
import { designLayers } from '../machine'
import { loopModel } from './loopModel'
import type { Gains, LoopModel } from './loopModel'
import { tune } from './tune'

export type LoopValues = ValuesOf<typeof loop>

/** A loop of a document with its model, its gains and what its feedforward leaves. */
export interface LoopDesign {
  readonly values: LoopValues
  readonly model: LoopModel
  readonly gains: Gains
  /** Push at the operating point, in units of the push: the weight for lift. */
  readonly nominalPush: number
  /** The held quantity at the operating point. */
  readonly nominalHeld: number
  /** What the feedforward gives at the operating point. */
  readonly feedforward: number
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
  const law = findKind(laws, values.law)!
  const layers = designLayers(machine)
  const plant = plantOf(machine, layers.all, values.pushes, values.holds)
  if (plant.kind === 'refused') return plant
  const machineOnly = plantOf(machine, layers.withoutLag, values.pushes, values.holds)
  if (machineOnly.kind === 'refused') return machineOnly
  if (!movedOutputs(plant.value, 0).includes(0)) {
    return refusedFor(
      `loops.${name}.pushes`,
      `${values.pushes} does not move ${values.holds} about the operating point.`,
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

/** Gains from the loop's requirement, or as typed. */
export function designLoop(document: Document, name: string): Outcome<LoopDesign> {
  const found = modelOfLoop(document, name)
  if (found.kind === 'refused') return found
  const { values, model, machine } = found.value
  const gains = gainsOf(model, values.tuning, name)
  if (gains.kind === 'refused') return gains
  const linear = linearMachine(machine, designLayers(machine).all)
  if (linear.kind === 'refused') return linear
  const { pushes, held } = linear.value.operatingPoint
  const [nominalPush, nominalHeld] = [pushes[values.pushes]!, held[values.holds]!]
  const feedforward = feedforwardPush(values.feedforward, nominalPush)
  return done({ values, model, gains: gains.value, nominalPush, nominalHeld, feedforward })
}

/** Relative: rates are typed as whole numbers, sample times as decimals. */
const sameRate = 1e-9

function gainsOf(model: LoopModel, tuning: Part, name: string): Outcome<Gains> {
  if (tuning.kind === typedGains.name) {
    const { kp, ki, kd } = valuesOf(typedGains, tuning)
    return done({ kp, ki, kd })
  }
  const tuned = tune(model, valuesOf(requirement, tuning))
  if (tuned.kind === 'tuned') return done(tuned.gains)
  return refusedFor(`loops.${name}.tuning`, tuned.what, tuned.remedy)
}

function feedforwardPush(feedforward: Part, nominalPush: number): number {
  return findAt(feedforward, 'on') === true ? (feedforward.scale as number) * nominalPush : 0
}
