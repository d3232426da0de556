import { linearMachine } from '@calm-hand/core/control'
import { partAt } from '@calm-hand/core/document'
import type { Document, LoopPart, Part } from '@calm-hand/core/document'
import { movedOutputs } from '@calm-hand/core/linear'
import { designLayers, heldQuantities } from '@calm-hand/core/machine'
import { freePush, loopsOf } from '../../stations/loops/loopEdits'
import { freeName } from '../../stations/machine/partEdits'

/** Hz, without a sample time of the machine's own. */
const usualRate = 100

/** A loop with all gains 0 on the first push that is free and what it moves, or nothing where every push has its loop. */
export function newLoop(document: Document, machineName: string): { readonly name: string; readonly part: LoopPart } | undefined {
  const machine = document.machines[machineName]
  const push = freePush(document, machineName)
  if (push === undefined || machine === undefined) return undefined
  const quantities = heldQuantities(machine)
  const reached = movedBy(machine, push.name)
  const moved = quantities.filter(({ name }) => reached.has(name))
  const others = new Set(loopsOf(document, machineName).map(({ holds }) => holds))
  // what the drive itself moves before what it moves by the way, and nothing that another loop holds
  const joint = partAt(machine, push.name)?.joint
  const wanted = [moved.filter(({ name }) => name === joint), moved.filter(({ rate }) => rate !== undefined), moved, quantities]
  const held = wanted.flat().find(({ name }) => !others.has(name)) ?? quantities[0]
  if (held === undefined) return undefined
  const part: LoopPart = {
    kind: 'loop',
    machine: machineName,
    holds: held.name,
    reference: 'cue',
    law: { kind: held.rate === undefined ? 'proportionalIntegral' : 'pidOnRate' },
    reads: 'true',
    pushes: push.name,
    rate: machine.sampleTime === undefined ? usualRate : Math.round(1 / (machine.sampleTime as number)),
    delay: 0,
    closed: true,
    tuning: { kind: 'typedGains', kp: 0, ki: 0, kd: 0 },
    feedforwards: { rest: { kind: 'holding', on: true, scale: 1 } },
  }
  return { name: freeName(Object.keys(document.loops), plainName(push.label)), part }
}

/** Names of what a push moves about the operating point. */
function movedBy(machine: Part, push: string): ReadonlySet<string> {
  const linear = linearMachine(machine, designLayers.all)
  if (linear.kind === 'refused') return new Set()
  const { system } = linear.value
  return new Set(movedOutputs(system, system.inputs.indexOf(push)).map((i) => system.outputs[i]!))
}

/** Words of a label joined as a name. */
function plainName(label: string): string {
  const words = label.split(/[^A-Za-z0-9]+/).filter((word) => word !== '')
  return words.map((word, i) => (i === 0 ? word : word[0]!.toUpperCase() + word.slice(1))).join('')
}
