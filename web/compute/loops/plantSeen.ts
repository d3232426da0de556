import { modalMeasures } from '@calm-hand/core/control'
import type { ModalMeasure } from '@calm-hand/core/control'
import { done, replaceAt } from '@calm-hand/core/document'
import type { Document, Outcome } from '@calm-hand/core/document'
import { behindSamples, continuousPoles, minimalRealization, transmissionZeros, withOutputs } from '@calm-hand/core/linear'
import type { StateSpace } from '@calm-hand/core/linear'
import { designLayers } from '@calm-hand/core/machine'
import type { AnyLayer } from '@calm-hand/core/machine'
import { closedLoop, designLoop, loopModel, plantWith } from '@calm-hand/core/tuning'
import type { LoopDesign, LoopModel } from '@calm-hand/core/tuning'

/** Forms of what a loop sees. */
export type PlantForm = 'plant' | 'machineOnly' | 'sampled' | 'delayed' | 'closed'

interface Pole {
  readonly re: number
  readonly im: number
}

/** A form of the plant with what is worth knowing of it. */
export interface SeenPlant {
  readonly system: StateSpace
  readonly poles: readonly Pole[]
  readonly zeros: readonly Pole[]
  /** States that nothing moves or shows. */
  readonly lost: number
  readonly measures: readonly ModalMeasure[]
}

/** What a loop sees in a form, with some layers the other way round than the design has them, about a point or its own. */
export function plantSeen(
  document: Document,
  loop: string,
  changed: readonly AnyLayer[],
  about: string | undefined,
  form: PlantForm,
): Outcome<SeenPlant> {
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return design
  const model = chosenModel(document, loop, design.value, changed, about)
  if (model.kind === 'refused') return model
  const system = formOf(model.value, design.value.gains, form)
  const first = withOutputs(system, [0])
  const measures = modalMeasures(system)
  return done({
    system,
    poles: continuousPoles(system) ?? [],
    zeros: transmissionZeros(first) ?? [],
    lost: system.a.length - minimalRealization(first).a.length,
    measures: measures.kind === 'done' ? measures.value : [],
  })
}

/** The loop as designed, or on a plant with some layers the other way round, or about another point. */
function chosenModel(
  document: Document,
  loop: string,
  { model, values }: LoopDesign,
  changed: readonly AnyLayer[],
  about: string | undefined,
): Outcome<LoopModel> {
  if (changed.length === 0 && about === undefined) return done(model)
  const own = designLayers.all
  const layers = new Set([...[...own].filter((layer) => !changed.includes(layer)), ...changed.filter((layer) => !own.has(layer))])
  const asked = about === undefined ? document : replaceAt(document, `loops.${loop}.point`, about)
  const plant = plantWith(asked, loop, layers)
  if (plant.kind === 'refused') return plant
  const plain = { ...model.shown, truth: 0 }
  return done(loopModel(model.law, plant.value, model.machineOnly, values.rate, values.delay, plain))
}

function formOf(model: LoopModel, gains: LoopDesign['gains'], form: PlantForm): StateSpace {
  switch (form) {
    case 'closed':
      return closedLoop(model, gains)
    case 'delayed':
      return behindSamples(model.sampled, model.delay)
    case 'machineOnly':
      return model.machineOnly()
    default:
      return model[form]
  }
}
