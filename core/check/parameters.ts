import { done, findAt, nearestName, partsIn, refused, rememberedOf, replaceAt } from '../document'
import type { Document, Outcome, Part, Problem } from '../document'
import { namesInFormula, renamedFormula, renameParameter, resolveFormulas } from '../formula'
import { findSlot, partOf } from '../kinds'
import type { FoundPart } from '../kinds'
import { machineKinds, machineProblems, machineNumbers } from '../machine'
import { changedBy, changedParameter, override, trulyMade, withRenamedChanges } from '../simulation'
import { formulaPlaces, partsOf } from './parts'

/** A document with a parameter under another name, in all numbers and formulas that use it. */
export function withRenamedParameter(document: Document, from: string, to: string): Document {
  const found = partsOf(document)
  const named = renameParameter(document as never, from, to) as Document
  const renamed = withRenamedChanges(named, (path) => (path === `parameters.${from}` ? `parameters.${to}` : path))
  return found.reduce((changed, { path, part, kind }) => {
    const formulas = Object.keys(kind.slots).filter(
      (slot) => kind.slots[slot]!.type === 'formula' && typeof part[slot] === 'string',
    )
    return formulas.reduce(
      (next, slot) => replaceAt(next, `${path}.${slot}`, renamedFormula(part[slot] as string, from, to)),
      changed,
    )
  }, renamed)
}

/** The parameters that formulas of a machine use become constants of it, so that a machine can be computed alone. */
export function withConstants(document: Document, found: readonly FoundPart[]): Document {
  const parameters = document.parameters ?? {}
  let changed = document
  for (const { path, part, kind } of found) {
    const machine = /^machines\.[^.]+|^loops\.[^.]+\.law/.exec(path)?.[0]
    if (machine === undefined) continue
    for (const [slot, definition] of Object.entries(kind.slots)) {
      if (definition.type !== 'formula') continue
      for (const used of namesInFormula(part[slot] as string)) {
        // a misspelt name takes its nearest along, so that the machine's own check can name it
        const name = Object.hasOwn(parameters, used) ? used : nearestName(used, Object.keys(parameters))
        const taken = ['constants', 'states', 'inputs', 'outputs'].some(
          (group) => findAt(changed, `${machine}.${group}.${name}`) !== undefined,
        )
        if (name === undefined || taken) continue
        const { value, unit } = parameters[name]!
        changed = replaceAt(changed, `${machine}.constants.${name}`, { kind: 'constant', value, unit })
      }
    }
  }
  return changed
}

/** A parameter outside the range that its engineer gave it. */
export function rangeProblems(where: string, part: Part): Problem[] {
  const { value, least, most, unit } = part as unknown as { value: number; least?: number; most?: number; unit: string }
  const inUnit = unit === '' ? '' : ` ${unit}`
  if (least !== undefined && value < least)
    return [
      {
        where,
        what: `The value ${value}${inUnit} is below its range.`,
        remedy: `Give at least ${least}${inUnit}, or widen the range.`,
      },
    ]
  if (most !== undefined && value > most)
    return [
      {
        where,
        what: `The value ${value}${inUnit} is above its range.`,
        remedy: `Give at most ${most}${inUnit}, or widen the range.`,
      },
    ]
  return []
}

/**
 * The same document with what a trial's changes of parameters do to the numbers of its machine beside them, as `numbers` of the
 * first of these changes: compiling knows numbers only, and no formulas.
 */
export function withChangedParameters(
  written: { readonly [field: string]: unknown },
  resolved: Document,
  found: readonly FoundPart[],
): Outcome<Document> {
  const problems: Problem[] = []
  const document = Object.entries(resolved.trials).reduce((next, [name, part]) => {
    const overrides = partsIn(part.overrides)
    const keys = Object.keys(overrides).filter((key) => changedParameter(overrides[key]!) !== undefined)
    if (keys.length === 0) return next
    const at = `trials.${name}.overrides`
    const machine = part.machine
    const values = partsIn(resolved.parameters)
    const asked = keys.reduce((now, key) => {
      const parameter = changedParameter(overrides[key]!)!
      const value = changedBy(values[parameter]!.value as number, `parameters.${parameter}`, overrides)
      return replaceAt(now, `parameters.${parameter}.value`, value)
    }, written)
    const truth = machineOf(asked, found, machine)
    if (truth.kind === 'refused') {
      const [{ what, remedy }] = truth.problems as [Problem]
      problems.push({ where: `${at}.${keys[0]!}.amount`, what: `With this change of a parameter: ${what}`, remedy })
      return next
    }
    const changes = machineNumbers(truth.value).flatMap(({ path, value }) =>
      findAt(resolved.machines[machine], path) === value ? [] : [[path, value] as const],
    )
    const outside = changes.flatMap(([path, value]) => outOfRange(`${at}.${keys[0]!}`, resolved.machines[machine]!, path, value))
    problems.push(...outside.slice(0, 1))
    return replaceAt(next, `${at}.${keys[0]!}.numbers`, Object.fromEntries(changes))
  }, resolved)
  return problems.length > 0 ? refused(problems) : done(document)
}

/** A machine with its formulas worked out; refused where one of them gives no number. */
export function machineOf(
  written: { readonly [field: string]: unknown },
  found: readonly FoundPart[],
  machine: string,
): Outcome<Part> {
  const { document: numbers, problems } = resolveFormulas(written, formulaPlaces(written))
  const own = problems.filter(({ where }) => where.startsWith(`machines.${machine}.`) || where.startsWith('parameters.'))
  return own.length > 0 ? refused(own) : done(withConstants(numbers as unknown as Document, found).machines[machine]!)
}

/** A changed number must still be one that the machine could have. */
export function overrideProblems(where: string, machine: Part, change: Part): Problem[] {
  const path = partOf(override, change).parameter
  // what a parameter changes is known once its formulas are worked out
  if (changedParameter(change) !== undefined) return []
  const value = machineNumbers(machine).find((place) => place.path === path)!.value
  return outOfRange(where, machine, path, changedBy(value, path, { change }))
}

/** A number that its slot does not allow, told at the change that makes it. */
function outOfRange(where: string, machine: Part, path: string, changed: number): Problem[] {
  const slot = findSlot(machineKinds, machine, path.split('.'))
  if (slot?.type !== 'number') return []
  const tooLow = (slot.above !== undefined && !(changed > slot.above)) || (slot.least !== undefined && changed < slot.least)
  if (!tooLow && !(slot.most !== undefined && changed > slot.most)) return []
  return [
    {
      where: `${where}.amount`,
      what: `This would make the ${slot.label} ${changed} ${slot.unit}, outside what it can be.`,
      remedy: 'Choose an amount nearer to the value of the document.',
    },
  ]
}

/** Of one machine as trials change it; a drag of a change makes one at each step. */
const mostTruths = 100
const truths = new WeakMap<Part, Map<string, readonly Problem[]>>()

/** What the changes of a trial together make of its machine must still be one. */
export function trueMachineProblems(document: Document): Problem[] {
  return Object.entries(document.trials).flatMap(([name, part]): Problem[] => {
    const overrides = partsIn(part.overrides)
    const [first] = Object.keys(overrides)
    const machine = document.machines[part.machine]!
    if (first === undefined) return []
    const [problem] = rememberedOf(
      truths,
      machine,
      `${part.machine} ${JSON.stringify(overrides)}`,
      () => machineProblems(`machines.${part.machine}`, trulyMade(machine, overrides)),
      mostTruths,
    )
    if (problem === undefined) return []
    const where = `trials.${name}.overrides.${first}`
    return [{ where, what: `As this trial changes it: ${problem.what}`, remedy: problem.remedy }]
  })
}
