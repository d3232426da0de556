import { expose } from 'comlink'
import type { Document } from '@calm-hand/core/document'
import { calmMap, mapRange, modelOfLoop } from '@calm-hand/core/tuning'
import type { CalmMap, MapRange } from '@calm-hand/core/tuning'

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
}

export type Mapper = typeof mapper
expose(mapper)
