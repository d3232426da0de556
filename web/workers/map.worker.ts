import { expose } from 'comlink'
import { done, replaceAt } from '@calm-hand/core/document'
import type { Document, Outcome, Part } from '@calm-hand/core/document'
import { checkDocument, machinesWithParameters } from '@calm-hand/core'
import { knownAs, usualIntegralCorner, withTrueNumbers } from '@calm-hand/core/control'
import { gentleStep, predictTrial, predictWatched } from '@calm-hand/core/simulation'
import { calmMap, mapRange, meetSteps, modelOfLoop, outOfReach, spread, togetherFigures } from '@calm-hand/core/tuning'
import type {
  CalmMap,
  Cut,
  LoopDesign,
  LoopModel,
  MapRange,
  Met,
  OutOfReach,
  Prediction,
  Spread,
  TogetherFigures,
  Variation,
  Wishes,
} from '@calm-hand/core/tuning'
import { answerOf, askedOf } from '../compute/loops/asked'
import type { AskedFor } from '../compute/loops/asked'

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
  /** What a loop does in a trial by the linear machine with all its loops. */
  predicted(document: Document, trial: string, loop: string): Prediction | undefined {
    return predictTrial(document, trial, loop)
  },
  /** What quantities of the machine do in a trial by the same. */
  predictedWatched(document: Document, trial: string, quantities: readonly string[]) {
    return predictWatched(document, trial, quantities)
  },
  /** A step for a first look at a loop, in a trial that asks it for `by`. */
  gentle(document: Document, trial: string, loop: string, by: number): number {
    return gentleStep(document, trial, loop, by)
  },
  /** How the charted answer spreads while numbers of the machine vary, or parameters of the document as it is written. */
  spread(
    document: Document,
    written: Document,
    loop: string,
    { paths, share }: { readonly paths: readonly string[]; readonly share: number },
    asked: AskedFor,
    window: number,
  ): Spread | string {
    const answer = (design: LoopDesign, of: Document) =>
      answerOf(design, askedOf(of, loop, asked), window, { feedback: design.values.closed, feedforward: undefined })
    const name = document.loops[loop]!.machine as string
    const found = spread(document, loop, paths, share, answer, truths(document, written, name))
    return found.kind === 'done' ? found.value : found.problems[0]!.what
  },
  /**
   * A crossover and margin that keep requirements; with `ranges` also with every parameter at either end of its range.
   * `onStep` is told how much is surely done and says whether to go on; nothing is found where it does not.
   */
  async meet(
    document: Document,
    loop: string,
    { wishes, stepSize, ranges }: MeetRequest,
    onStep: (share: number) => Promise<boolean> | boolean,
  ): Promise<Met | OutOfReach | undefined> {
    const models: LoopModel[] = []
    const machine = document.loops[loop]!.machine as string
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
  },
}

export interface MeetRequest {
  readonly wishes: Wishes
  readonly stepSize: number
  readonly ranges: boolean
}

const ofDocument = 'parameters.'

/**
 * Makes a machine with numbers of its own and parameters of the document times factors; its software goes on with what it knew.
 */
function truths(document: Document, written: Document, machine: string): (variation: Variation) => Outcome<Part> {
  const known = document.machines[machine]!
  let made: ReturnType<typeof machinesWithParameters> | undefined
  return (variation) => {
    const of = (isParameter: boolean) => Object.entries(variation).filter(([path]) => path.startsWith(ofDocument) === isParameter)
    const parameters = of(true).map(([path, factor]) => [path.slice(ofDocument.length), factor] as const)
    const own = Object.fromEntries(of(false))
    if (parameters.length === 0) return done(withTrueNumbers(known, own))
    made ??= machinesWithParameters(written, machine)
    const truth = made.kind === 'refused' ? made : made.value(Object.fromEntries(parameters))
    return truth.kind === 'refused' ? truth : done(knownAs(withTrueNumbers(truth.value, own), known))
  }
}

/** The document with each parameter in turn at the ends of its range. */
function atEnds(document: Document): Document[] {
  return Object.entries(document.parameters ?? {}).flatMap(([name, { least, most }]) =>
    [least, most].flatMap((end) => (typeof end === 'number' ? [replaceAt(document, `parameters.${name}.value`, end)] : [])),
  )
}

export type Mapper = typeof mapper
expose(mapper)
