import { add, mul, sub } from '../expression'
import type { NumberNode, Scalar } from '../expression'
import { observerDesign, observerKind, observerMemory, observerStart, observerStep } from '../control'
import type { ObserverDesign } from '../control'
import { done } from '../document'
import type { Document, Outcome, Part } from '../document'
import { findHeld } from '../machine'
import { slotOf } from './layout'
import { normalPair } from './noise'
import type { SensorResult } from './sensed'
import type { PlantContext, SensorTiming } from './trialPlant'

export interface NamedObserver {
  readonly name: string
  readonly rate: number
  readonly design: ObserverDesign
}

/** The observers of a machine, designed. */
export function observersOf(document: Document, machineName: string, machine: Part): Outcome<readonly NamedObserver[]> {
  const found: NamedObserver[] = []
  for (const [name, part] of Object.entries(document.estimators)) {
    if (part.kind !== observerKind.name || part.machine !== machineName) continue
    const design = observerDesign(`estimators.${name}`, machine, part)
    if (design.kind === 'refused') return design
    found.push({ name, rate: part.rate as number, design: design.value })
  }
  return done(found)
}

interface ObserverContext extends Pick<PlantContext, 'name' | 'layers' | 'layout' | 'parameter'>, SensorTiming {
  readonly machine: Part
  readonly observers: readonly NamedObserver[]
  readonly truth: ReadonlyMap<string, NumberNode>
}

/** Streams of noise that lie beside those of sensors. */
const firstStream = 4096
const streamsEach = 64

/**
 * Observers as sampled blocks behind sensors: what they read with its noise, what they estimate, and their innovations as
 * columns. An observer takes what a sensor of the machine reads, with its errors, before a noise of its own.
 */
export function observerBlocks(context: ObserverContext, result: SensorResult): void {
  const { layout, layers, machine, observers, truth, seed, tick, baseRate, asked, parameter } = context
  observers.forEach(({ name, rate, design }, k) => {
    const every = Math.round(baseRate / rate)
    const noisy = (signal: string, i: number) => {
      const noise = layers.has('sensorErrors')
        ? mul(
            parameter(`estimators.${name}.noise.${i}`, design.noises[i]!),
            normalPair(seed, firstStream + streamsEach * k + i, tick)[0],
          )
        : 0
      return add(truth.get(signal)!, noise)
    }
    const readings = design.signals.map((signal, i) =>
      sub(result.signals.measured.get(signal) ?? noisy(signal, i), design.rest[signal] ?? 0),
    )
    const memory = layout.many(observerMemory(design))
    const pushes = asked.map((value, i) => sub(value, design.restOfInputs[i]!))
    const step = observerStep(design, memory, pushes, readings)
    const values = step.memory.map((value, i) => ({ slot: slotOf(memory[i]!), value }))
    const atFirst = observerStart(design)
    memory.forEach((node, i) => result.initial.push({ slot: slotOf(node), value: atFirst[i]! }))
    const keep = (value: Scalar, start: number): NumberNode => {
      const node = layout.one()
      values.push({ slot: slotOf(node), value })
      result.initial.push({ slot: slotOf(node), value: start })
      return node
    }
    design.estimated.forEach((quantity, i) => {
      const rest = design.rest[quantity] ?? 0
      const node = keep(add(step.estimates[i]!, rest), rest)
      const { label, unit } = findHeld(machine, quantity)!
      result.signals.estimated.set(quantity, node)
      result.columns.push({
        ...{ name: `${context.name}.${quantity}.estimate`, label: `${label} estimate`, unit, role: 'estimate', value: node },
      })
    })
    design.signals.forEach((signal, i) => {
      const { label, unit } = findHeld(machine, signal)!
      const shown = {
        name: `estimators.${name}.innovation.${signal}`,
        label: `innovation of ${label}`,
        unit,
        role: 'measured',
      } as const
      result.columns.push({ ...shown, every, value: keep(step.innovations[i]!, 0) })
    })
    result.blocks.push({ name: `estimator_${name}`, every, values })
  })
}
