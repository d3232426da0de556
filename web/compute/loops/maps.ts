import type { Document } from '@calm-hand/core/document'
import { calmMap, mapRange, modelOfLoop } from '@calm-hand/core/tuning'
import type { CalmMap, MapRange } from '@calm-hand/core/tuning'

/** Where a loop's calm map is of interest; nothing where the loop has no model. */
export function rangeOfMap(document: Document, loop: string, integralCorner: number): MapRange | undefined {
  const model = modelOfLoop(document, loop)
  return model.kind === 'done' ? mapRange(model.value.model, integralCorner) : undefined
}

/** Columns of a loop's calm map. */
export function columnsOfMap(
  document: Document,
  loop: string,
  integralCorner: number,
  crossovers: readonly number[],
  margins: readonly number[],
): CalmMap | undefined {
  const model = modelOfLoop(document, loop)
  return model.kind === 'done' ? calmMap(model.value.model, integralCorner, crossovers, margins) : undefined
}
