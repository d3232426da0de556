import { equal } from '../expression'
import type { Assignment, NumberNode, Scalar } from '../expression'
import { estimatorsOf } from '../control'
import type { EstimatorContext } from '../control'
import { findAt } from '../document'
import type { Document, Part } from '../document'
import { findHeld } from '../machine'
import type { Put } from './happenings'
import { slotOf } from './layout'
import { normalPair } from './noise'
import type { SampledSensor, SensorResult } from './sensed'
import type { PlantContext, RestRead, SensorTiming } from './trialPlant'

interface EstimatorBlocksContext extends Pick<PlantContext, 'name' | 'layout' | 'known' | 'parameter'>, SensorTiming {
  readonly document: Document
  readonly machine: Part
  readonly truth: ReadonlyMap<string, Scalar>
  readonly rest: RestRead
  readonly sensors: ReadonlyMap<string, SampledSensor>
  readonly errs: boolean
}

/** Streams of noise that lie beside those of sensors. */
const firstStream = 4096
const streamsEach = 64

/** Estimators as sampled blocks behind sensors: what they estimate, and what they compare, as columns. */
export function estimatorBlocks(context: EstimatorBlocksContext, result: SensorResult): void {
  const { document, name: machineName, machine, layout, truth, sensors, seed, tick, baseRate } = context
  const isFirst = equal(tick, 0)
  estimatorsOf(document, machineName).forEach(({ name, part, kind }, k) => {
    const every = Math.round(baseRate / kind.rate(machine, part))
    const { measured } = result.signals
    const worked = kind.worksOut?.(machine, part) ?? {}
    const sees: EstimatorContext = {
      ...{ machine, part, known: context.known, asked: context.asked, isFirst },
      number: (path) => context.parameter(`estimators.${name}.${path}`, worked[path] ?? (findAt(part, path) as number)),
      sensor: (slot) => sensors.get(part[slot] as string)!,
      measured: (quantity) => measured.get(quantity) ?? truth.get(quantity)!,
      isMeasured: (quantity) => measured.has(quantity),
      random: (stream) => (context.errs ? normalPair(seed, firstStream + streamsEach * k + stream, tick)[0] : 0),
      rest: (quantity) => context.rest.held(quantity) ?? 0,
      restsAt: (quantity) => context.rest.number(quantity) ?? 0,
      dt: every / baseRate,
    }
    const run = kind.run(sees)
    const memory = layout.many(run.start.length)
    const step = run.step(memory)
    const kept = layout.many(step.kept.length)
    const values = [...step.memory, ...step.kept.map(({ value }) => value)]
    const starts = [...run.start, ...step.kept.map(({ start }) => start)]
    const nodes: readonly NumberNode[] = [...memory, ...kept]
    nodes.forEach((node, i) => result.initial.push({ slot: slotOf(node), value: starts[i]! }))
    result.blocks.push({
      name: `estimator_${name}`,
      every,
      values: nodes.map((node, i) => ({ slot: slotOf(node), value: values[i]! })),
    })
    const { estimates, watched } = run.tells(memory, kept)
    // faults sit behind the estimator, which does not know of them: in a block that follows it
    const faults: Assignment[] = []
    const put: Put = (node, next, first) => {
      faults.push({ slot: slotOf(node), value: next })
      result.initial.push({ slot: slotOf(node), value: first })
    }
    const read = (quantity: string, told: Scalar) => {
      const start = context.rest.held(quantity) ?? 0
      const altered = context.alter(`${machineName}.${quantity}.estimate`, told, every / baseRate, start, put)
      if (altered === told) return told
      const node = layout.one()
      put(node, altered, start)
      return node
    }
    for (const [quantity, told] of estimates) {
      const { label, unit } = findHeld(machine, quantity)!
      const value = read(quantity, told)
      result.signals.estimated.set(quantity, value)
      result.columns.push({
        ...{ name: `${machineName}.${quantity}.estimate`, label: `${label} estimate`, unit, role: 'estimate', value },
      })
    }
    for (const { isEstimate, name: own, ...one } of watched)
      result.columns.push({
        ...one,
        name: `estimators.${name}.${own}`,
        ...(isEstimate === true ? { role: 'estimate' } : { role: 'measured', every }),
      })
    if (faults.length > 0) result.blocks.push({ name: `faults_${name}`, every, values: faults })
  })
}
