import { Graph, add, evaluate, isNode } from '../expression'
import type { Scalar } from '../expression'
import { forwardNumbers, forwardOf, inversePushes, referenceLoops } from '../control'
import type { AskedOfLoop, ForwardInputs, LoopForward, Motion, OperatingPoint } from '../control'
import { rememberedOf } from '../document'
import type { Document } from '../document'
import { linearize } from '../linear'
import type { StateSpace } from '../linear'
import { findHeld, numbersOf } from '../machine'
import type { LoopModel } from './loopModel'

/** What a loop carries beforehand, about its operating point. */
export interface ForwardDesign {
  readonly block: LoopForward
  /** What it gives at rest, in the unit of the push. */
  readonly constant: number
  /** From the reference about rest, its rate and its acceleration to the command about `constant`; nothing where it takes none of them. */
  readonly linear: StateSpace | undefined
}

interface ForwardRequest {
  readonly document: Document
  readonly name: string
  readonly model: LoopModel
  readonly operatingPoint: OperatingPoint
  /** The push at rest: of the machine, or what a commanded loop holds there. */
  readonly nominalPush: number
  readonly commandsAnother: boolean
}

/** By plant: a drag of a gain leaves what is carried beforehand as it is. */
const designs = new WeakMap<StateSpace, Map<string, ForwardDesign>>()

/** The feedforwards of a loop, and what they come to in a linear prediction: friction left out, as in the linear machine. */
export function designForward(request: ForwardRequest): ForwardDesign {
  const { document, name, model } = request
  const loop = document.loops[name]!
  const others = referenceLoops(document, loop.machine).map((one) => [document.loops[one]!.pushes, document.loops[one]!.holds])
  const key = JSON.stringify([loop.feedforwards, loop.holds, loop.pushes, others, model.dt])
  return rememberedOf(designs, model.plant, key, () => designed(request))
}

function designed(request: ForwardRequest): ForwardDesign {
  const { document, name, model, nominalPush, commandsAnother } = request
  const { dt } = model
  const loop = document.loops[name]!
  const block = forwardOf(loop, model.machineOnly)
  const machine = document.machines[loop.machine]!
  const held = findHeld(machine, loop.holds)!
  const rest = request.operatingPoint.held[held.name]!
  const graph = new Graph()
  const memory = Array.from({ length: block.memory }, (_, i) => graph.slot(i))
  const asked = [0, 1, 2].map((i) => graph.slot(block.memory + i)) as unknown as Motion
  const inputs: ForwardInputs = {
    asked,
    absolute: [add(asked[0], rest), asked[1], asked[2]],
    isPosition: held.rate !== undefined,
    holding: commandsAnother ? 0 : nominalPush,
    inverse: (moving) => {
      const loops = referenceLoops(document, loop.machine)
      const motions = loops.map((one): AskedOfLoop => {
        const { pushes, holds } = document.loops[one]!
        const still = request.operatingPoint.held[holds] ?? 0
        const own: Motion = [add(asked[0], rest), moving ? asked[1] : 0, moving ? asked[2] : 0]
        return { push: pushes, holds: holds, motion: one === name ? own : [still, 0, 0] }
      })
      return inversePushes(machine, numbersOf(machine), request.operatingPoint, motions, 'withoutFriction')[loops.indexOf(name)]!
    },
    away: () => 0,
    dt,
  }
  const { command, memory: next } = block.step(inputs, memory, forwardNumbers(loop))
  const base = commandsAnother ? nominalPush : 0
  if (!isNode(command)) return { block, constant: base + command, linear: undefined }
  return { block, constant: base + valueAtRest(command, block.memory + 3), linear: aboutRest(command, next, block.memory, dt) }
}

function valueAtRest(command: Scalar, slots: number): number {
  return evaluate(command, new Array<number>(slots).fill(0))
}

function aboutRest(command: Scalar, next: readonly Scalar[], memory: number, dt: number): StateSpace {
  const list = Array.from({ length: memory }, (_, i) => i)
  const system = linearize({
    rates: next,
    outputs: [command],
    stateSlots: list,
    inputSlots: [0, 1, 2].map((i) => memory + i),
    at: new Array<number>(memory + 3).fill(0),
    names: { states: list.map((i) => `x${i + 1}`), inputs: ['reference', 'rate', 'acceleration'], outputs: ['command'] },
  })
  return { ...system, dt }
}
