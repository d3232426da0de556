import { expose } from 'comlink'
import type { Document } from '@calm-hand/core/document'
import { checkDocument } from '@calm-hand/core'
import { requirement } from '@calm-hand/core/control'
import { valuesOf } from '@calm-hand/core/kinds'
import { replaceAt } from '@calm-hand/core/document'
import { calmMap, mapRange, meet, modelOfLoop, togetherFigures } from '@calm-hand/core/tuning'
import type { CalmMap, Cut, LoopModel, MapRange, Met, TogetherFigures, Wishes } from '@calm-hand/core/tuning'

/** Works out parts of a loop's calm map away from the interface. */
const mapper = {
  range(document: Document, loop: string, integralCorner: number): MapRange | undefined {
    const model = modelOfLoop(document, loop)
    return model.kind === 'done' ? mapRange(model.value.model, integralCorner) : undefined
  },
  columns(
    document: Document,
    loop: string,
    integralCorner: number,
    crossovers: readonly number[],
    margins: readonly number[],
  ): CalmMap | undefined {
    const model = modelOfLoop(document, loop)
    return model.kind === 'done' ? calmMap(model.value.model, integralCorner, crossovers, margins) : undefined
  },
  /** All loops of a machine together; nothing where one of them has no design. */
  together(document: Document, machine: string, cut: Cut): TogetherFigures | undefined {
    const figures = togetherFigures(document, machine, cut)
    return figures.kind === 'done' ? figures.value : undefined
  },
  /** A crossover and margin that keep requirements; with `ranges` also with every parameter at either end of its range. */
  meet(
    document: Document,
    loop: string,
    wishes: Wishes,
    stepSize: number,
    ranges: boolean,
  ): Met | { readonly kind: 'outOfReach'; readonly what: string; readonly remedy: string } {
    const models: LoopModel[] = []
    for (const one of [document, ...(ranges ? atEnds(document) : [])]) {
      const checked = checkDocument(one)
      const model = checked.kind === 'done' ? modelOfLoop(checked.value.resolved, loop) : checked
      if (model.kind === 'refused')
        return { kind: 'outOfReach', what: model.problems[0]!.what, remedy: model.problems[0]!.remedy }
      models.push(model.value.model)
    }
    return meet(models, valuesOf(requirement, { kind: requirement.name }).integralCorner, wishes, stepSize)
  },
}

/** The document with each parameter in turn at the ends of its range. */
function atEnds(document: Document): Document[] {
  return Object.entries(document.parameters ?? {}).flatMap(([name, { least, most }]) =>
    [least, most].flatMap((end) => (typeof end === 'number' ? [replaceAt(document, `parameters.${name}.value`, end)] : [])),
  )
}

export type Mapper = typeof mapper
expose(mapper)
