import { equal, select } from '../expression'
import type { NumberNode, Scalar } from '../expression'
import { lowPassEstimator, lowPassStep } from '../control'
import type { Document, Part } from '../document'
import { valuesOf } from '../kinds'
import { findHeld } from '../machine'
import { slotOf } from './layout'
import type { SensorResult } from './sensed'
import type { PlantContext, SensorTiming } from './trialPlant'

interface LowPassContext extends Pick<PlantContext, 'name' | 'layout' | 'parameter'>, Pick<SensorTiming, 'tick' | 'baseRate'> {
  readonly document: Document
  readonly machine: Part
  readonly truth: ReadonlyMap<string, Scalar>
}

/** The low-passes of a machine as sampled blocks, behind its sensors and other estimators: they start at their first reading. */
export function lowPassBlocks(context: LowPassContext, result: SensorResult): void {
  const { document, layout, machine, tick, baseRate, truth, parameter, name: machineName } = context
  for (const [name, part] of Object.entries(document.estimators)) {
    if (part.kind !== lowPassEstimator.name || part.machine !== machineName) continue
    const { signal, corner, rate: pace } = valuesOf(lowPassEstimator, part)
    const every = Math.round(baseRate / pace)
    const { label, unit, rate: rateName, angle } = findHeld(machine, signal)!
    const [node, rateNode] = layout.many(2) as [NumberNode, NumberNode]
    const read = result.signals.measured.get(signal) ?? truth.get(signal)!
    const isFirst = equal(tick, 0)
    const next = lowPassStep(node, {
      read,
      corner: parameter(`estimators.${name}.corner`, corner),
      dt: every / baseRate,
      goesRound: angle === 'goesRound',
    })
    result.blocks.push({
      name: `estimator_${name}`,
      every,
      values: [
        { slot: slotOf(node), value: select(isFirst, read, next.estimate) },
        { slot: slotOf(rateNode), value: select(isFirst, 0, next.rate) },
      ],
    })
    for (const one of [node, rateNode]) result.initial.push({ slot: slotOf(one), value: 0 })
    const show = (quantity: string, words: string, inUnit: string, value: NumberNode) => {
      result.signals.estimated.set(quantity, value)
      result.columns.push({
        ...{ name: `${machineName}.${quantity}.estimate`, label: `${words} estimate`, unit: inUnit, role: 'estimate', value },
      })
    }
    show(signal, label, unit, node)
    const rate = rateName === undefined ? undefined : findHeld(machine, rateName)
    if (rate !== undefined) show(rate.name, rate.label, rate.unit, rateNode)
  }
}
