import { mul } from '../expression'
import type { Assignment, NumberNode, Scalar } from '../expression'
import type { Document, Part } from '../document'
import {
  allocate,
  allocateWithin,
  axes,
  massProperties,
  motion,
  quantities,
  reachableSpeed,
  rotorCount,
  stateList,
} from '../machine'
import type { Layers } from '../machine'
import { slotOf } from './layout'
import { sensorBlocks } from './sensorBlocks'
import type { SensorContext } from './sensed'
import type { PlantContext, ShownColumn, TrialPlant } from './trialPlant'

/** A lifter: pushes are spread over its rotors by allocation; it starts in hover at the origin. */
export function lifterPlant(document: Document, machine: Part, context: PlantContext): TrialPlant {
  const { name, layout, truth, known } = context
  const layers = context.layers as Layers
  const infos = stateList(machine, layers)
  const { mass, centre } = massProperties(machine, known)
  // where rotors have no limits the mix gives everything
  const isWithin = (machine.rotors as Part).allocation === 'leastSquares' && layers.has('rotorLimits')
  const weight = mul(mass, known('gravity'))
  const hover = allocate(machine, known, [weight, 0, 0, 0])
  let seen: SensorContext['observed'] | undefined
  return {
    stateNames: infos.map((info) => info.name),
    askedCount: rotorCount(machine),
    sampleTime: undefined,
    rates: (states, asked) => motion(machine, truth, layers, states, asked).rates,
    observe: (states, asked) => {
      const moved = motion(machine, truth, layers, states, asked)
      const values: Assignment[] = []
      const columns: ShownColumn[] = []
      const keep = (value: Scalar): NumberNode => {
        const node = layout.one()
        values.push({ slot: slotOf(node), value })
        return node
      }
      const kept = new Map(quantities.map((quantity) => [quantity.name, keep(quantity.of(moved))]))
      for (const { name: quantity, label, unit, angle } of quantities)
        columns.push({
          ...{ name: `${name}.${quantity}`, label, unit, role: 'actual', ...(angle === undefined ? {} : { angle }) },
          value: kept.get(quantity)!,
        })
      const orientation = moved.orientation.map((value, i) => {
        const node = keep(value)
        columns.push({
          ...{ name: `${name}.attitude.${'wxyz'[i]}`, label: `attitude ${'wxyz'[i]}`, unit: '', role: 'actual' },
          value: node,
        })
        return node
      })
      moved.thrusts.forEach((thrust, i) =>
        columns.push({
          ...{ name: `${name}.rotor${i + 1}.thrust`, label: `rotor ${i + 1} thrust`, unit: 'N', role: 'actual' },
          value: keep(thrust),
        }),
      )
      const specificForce = moved.specificForce.map(keep) as [NumberNode, NumberNode, NumberNode]
      const position = [kept.get('east')!, kept.get('north')!, kept.get('height')!] as const
      seen = { quantities: kept, orientation, specificForce, position }
      return { truth: kept, values, columns }
    },
    sensors: (timing) =>
      sensorBlocks({
        ...timing,
        ...{ document, machineName: name, machine, layers, layout, truth, known, parameter: context.parameter },
        observed: seen!,
        centre: massProperties(machine, truth).centre,
        knownCentre: centre,
      }),
    ask: (pushes) =>
      (isWithin ? allocateWithin : allocate)(
        machine,
        known,
        axes.map(({ name: push }) => pushes.get(push) ?? (push === 'lift' ? weight : 0)),
      ).map((speed) => reachableSpeed(speed, layers, truth)),
    holding: new Map([['lift', weight]]),
    startStates: infos.map(({ atRest }, i) => (i < 13 ? atRest : hover[i - 13]!)),
    startAsked: hover,
  }
}
