import { machinesWithParameters } from '@calm-hand/core'
import { knownAs, withTrueNumbers } from '@calm-hand/core/control'
import { done } from '@calm-hand/core/document'
import type { Document, Outcome, Part } from '@calm-hand/core/document'
import { spreadOver } from '@calm-hand/core/tuning'
import type { LoopDesign, Spread, Variation } from '@calm-hand/core/tuning'
import { answerOf, askedOf } from './asked'
import type { AskedFor } from './asked'

/**
 * How the charted answer spreads while numbers of the machine vary, or parameters of the document as it is written; words where
 * there is none.
 */
export function spreadOf(
  document: Document,
  written: Document,
  loop: string,
  { paths, share }: { readonly paths: readonly string[]; readonly share: number },
  asked: AskedFor,
  window: number,
): Spread | string {
  const answer = (design: LoopDesign, of: Document) =>
    answerOf(design, askedOf(of, loop, asked), window, { feedback: design.values.closed, feedforward: undefined })
  const name = document.loops[loop]!.machine
  const found = spreadOver(document, loop, paths, share, answer, truths(document, written, name))
  return found.kind === 'done' ? found.value : found.problems[0]!.what
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
