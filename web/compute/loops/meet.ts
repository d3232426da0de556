import { replaceAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { checkDocument } from '@calm-hand/core'
import { knownAs } from '@calm-hand/core/control'
import { meetSteps, modelOfLoop, outOfReach, usualIntegralCorner } from '@calm-hand/core/tuning'
import type { LoopModel, Met, OutOfReach, Wishes } from '@calm-hand/core/tuning'

export interface MeetRequest {
  readonly wishes: Wishes
  readonly stepSize: number
  readonly ranges: boolean
}

/**
 * A crossover and margin that keep requirements; with `ranges` also with every parameter at either end of its range.
 * `onStep` is told how much is surely done and says whether to go on; nothing is found where it does not.
 */
export async function meetInSteps(
  document: Document,
  loop: string,
  { wishes, stepSize, ranges }: MeetRequest,
  onStep: (share: number) => Promise<boolean> | boolean,
): Promise<Met | OutOfReach | undefined> {
  const models: LoopModel[] = []
  const machine = document.loops[loop]!.machine
  const nominal = checkDocument(document)
  // at the ends of the ranges the software still knows the nominal machine
  const truly = (resolved: Document) => {
    const truth = resolved.machines[machine]!
    if (nominal.kind === 'done') knownAs(truth, nominal.value.resolved.machines[machine]!)
    return resolved
  }
  for (const one of [document, ...(ranges ? atEnds(document) : [])]) {
    const checked = checkDocument(one)
    const model = checked.kind === 'done' ? modelOfLoop(truly(checked.value.resolved), loop) : checked
    if (model.kind === 'refused') return outOfReach(model.problems[0]!.what, model.problems[0]!.remedy)
    models.push(model.value.model)
  }
  const steps = meetSteps(models, usualIntegralCorner, wishes, stepSize)
  for (;;) {
    const { done: isDone, value } = steps.next()
    if (isDone === true) return value
    if (!(await onStep(value))) return undefined
  }
}

/** The document with each parameter in turn at the ends of its range. */
function atEnds(document: Document): Document[] {
  return Object.entries(document.parameters ?? {}).flatMap(([name, { least, most }]) =>
    [least, most].flatMap((end) => (typeof end === 'number' ? [replaceAt(document, `parameters.${name}.value`, end)] : [])),
  )
}
