import { done, findAt, refusedFor } from '../document'
import type { Document, Outcome, Part } from '../document'
import { laws, loop, plantOf, requirement, typedGains } from '../control'
import { findKind, valuesOf } from '../kinds'
import type { ValuesOf } from '../kinds'
import { designRealism, machineFacts } from '../machine'
import { loopModel } from './loopModel'
import type { Gains, LoopModel } from './loopModel'
import { tune } from './tune'

export type LoopValues = ValuesOf<typeof loop>

/** A loop of a document with its model, its gains and what its feedforward leaves. */
export interface LoopDesign {
  readonly values: LoopValues
  readonly model: LoopModel
  readonly gains: Gains
  /** Push at the operating point, in units of the push: the weight for lift, else 0. */
  readonly nominalPush: number
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
  const plant = plantOf(machine, designRealism, values.pushes, values.holds)
  if (plant.kind === 'refused') return plant
  const withoutLag = new Set([...designRealism].filter((layer) => layer !== 'rotorLag'))
  const machineOnly = plantOf(machine, withoutLag, values.pushes, values.holds)
  if (machineOnly.kind === 'refused') return machineOnly
  if (plant.value.a.length === 0) {
    return refusedFor(
      `loops.${name}.pushes`,
      `${values.pushes} does not move ${values.holds} about hover.`,
      'Choose a push that moves what is held.',
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
  const nominalPush = values.pushes === 'lift' ? machineFacts(machine).weight : 0
  return done({ values, model, gains: gains.value, nominalPush, feedforward: feedforwardPush(values.feedforward, nominalPush) })
}

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
