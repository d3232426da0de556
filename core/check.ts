import Joi from 'joi'
import {
  chainProblems,
  cuedPush,
  commandedLoop,
  filterProblems,
  forwardProblems,
  estimators,
  laws,
  loop,
  pushOf,
  stopProblems,
} from './control'
import {
  done,
  findAt,
  migrate,
  mostDocumentCharacters,
  nameRemedy,
  nearestName,
  partsIn,
  refused,
  refusedFor,
  rememberedOf,
  replaceAt,
  shapeProblem,
  sharing,
} from './document'
import type { Document, LoopPart, Outcome, Part, Problem } from './document'
import { namesIn, renameParameter, renamedFormula, resolveFormulas } from './formula'
import {
  everyNumber,
  everyPart,
  findKind,
  findSlot,
  isPart,
  nameInWords,
  partName,
  partOf,
  problemsOf,
  schemaOfPart,
  strangers,
  valuesOf,
} from './kinds'
import type { AnyKind, FoundPart, Slot } from './kinds'
import { parameter } from './parameter'
import {
  findHeld,
  heldQuantities,
  machineKinds,
  machineProblems,
  measuringSensors,
  mechanismSensors,
  missingMeshes,
  pointNames,
  pushesOf,
  sensorsOf,
} from './machine'
import {
  changedBy,
  changedParameter,
  cues,
  override,
  readBy,
  trial,
  trialDuration,
  trulyMade,
  withRenamedChanges,
} from './simulation'

/** The named groups of a document and the kinds each may hold. */
export const groups = {
  parameters: [parameter],
  machines: machineKinds,
  loops: [loop],
  estimators,
  trials: [trial],
} satisfies Record<string, readonly AnyKind[]>
type GroupName = keyof typeof groups

const groupSchema = (kinds: readonly AnyKind[]) => Joi.object().pattern(partName, schemaOfPart(kinds)).required()

/** The schema of a whole document, generated from the kinds. Unknown fields pass and are kept. */
export const documentSchema = Joi.object({
  format: Joi.string().valid('calm-hand').required(),
  version: Joi.number().integer().required(),
  title: Joi.string().max(200).required(),
  about: Joi.string().max(400).allow('').required(),
  note: Joi.string().max(20_000).allow('').required(),
  up: Joi.string().valid('+z').required(),
  ...Object.fromEntries(
    Object.entries(groups).map(([name, kinds]) => [
      name,
      name === 'parameters' ? groupSchema(kinds).optional() : groupSchema(kinds),
    ]),
  ),
  tray: Joi.object()
    .pattern(
      /^[A-Z]$/,
      Joi.object({
        title: Joi.string().max(200).allow('').required(),
        note: Joi.string().max(2000).allow(''),
        trial: Joi.string().required(),
        run: Joi.string().hex().max(64).required(),
        loops: Joi.object()
          .pattern(partName, schemaOfPart([loop]))
          .required(),
      }).unknown(true),
    )
    .required(),
}).unknown(true)

export interface Checked {
  /** As it is written: kept, edited, sent. */
  readonly document: Document
  /** With every formula replaced by its number: what is computed. */
  readonly resolved: Document
  /** Odd but not wrong: fields that nothing reads, meshes that are not here. */
  readonly cautions: readonly Problem[]
}

/** Reads text as a document: size, JSON, version, schema, then what only the whole can tell. */
export function parseDocument(text: string): Outcome<Checked> {
  if (text.length > mostDocumentCharacters) {
    return refusedFor(
      '',
      `The document has ${text.length} characters; at most ${mostDocumentCharacters} are read.`,
      'Keep meshes and records outside the document.',
    )
  }
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    return refusedFor(
      '',
      `This is not JSON: ${(error as Error).message}`,
      'Open the file in a text editor at the place named; numbers such as NaN have no place in JSON.',
    )
  }
  return checkDocument(value)
}

/** What is as in the document that was checked last is that very part: what was found of it is known, and need not be looked for. */
let lastResolved: Document | undefined
const machinesFound = new WeakMap<Part, Map<string, readonly Problem[]>>()

/** The same for a value that is already parsed. All problems at once, each with its place. */
export function checkDocument(value: unknown): Outcome<Checked> {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    return refusedFor('', 'A document is a JSON object.', 'Start from a document that Calm Hand has written.')
  }
  const shape = shapeProblem(value)
  if (shape !== undefined) return refused([shape])
  const current = migrate(value as { [field: string]: unknown })
  if (current.kind === 'refused') return current
  const found = partsOf(current.value)
  const unread = strangers(found)
  const { document: numbers, problems: formulaProblems, waiting } = resolveFormulas(current.value, formulaPlaces(found))
  const told = new Set([...waiting, ...formulaProblems.map(({ where }) => where)])
  const problems = problemsOf(documentSchema, numbers, (path) => slotAt(current.value, path))
    .filter(({ where }) => !told.has(where))
    .map(hintedBy(unread))
  if (problems.length + formulaProblems.length > 0) return refused([...formulaProblems, ...problems])
  const resolved = (lastResolved = sharing(withConstants(numbers as unknown as Document, found), lastResolved))
  const semantic = [
    ...Object.entries(resolved.machines).flatMap(([name, machine]) =>
      rememberedOf(machinesFound, machine, name, () => machineProblems(`machines.${name}`, machine)),
    ),
    ...Object.entries(resolved.parameters ?? {}).flatMap(([name, one]) => rangeProblems(`parameters.${name}.value`, one)),
    ...references(resolved),
  ]
  if (semantic.length > 0) return refused(semantic)
  const changed = withChangedParameters(current.value, resolved, found)
  if (changed.kind === 'refused') return changed
  const untrue = trueMachineProblems(changed.value)
  if (untrue.length > 0) return refused(untrue)
  const forward = Object.keys(resolved.loops).flatMap((name) => forwardProblems(resolved, name))
  if (forward.length > 0) return refused(forward)
  const unseen = Object.entries(resolved.estimators).flatMap(([name, part]) => {
    return findKind(estimators, part)?.refused?.(`estimators.${name}`, resolved.machines[part.machine]!, part) ?? []
  })
  if (unseen.length > 0) return refused(unseen)
  const blind = Object.entries(resolved.loops).flatMap(([name, part]) =>
    estimateProblems(resolved, `loops.${name}`, part, resolved.machines[part.machine]!),
  )
  if (blind.length > 0) return refused(blind)
  return done({
    document: current.value as unknown as Document,
    resolved: changed.value,
    cautions: [...unread, ...missingMeshes(resolved)],
  })
}

/** A missing field next to an unknown one is most likely one misspelt field: say so at once. */
function hintedBy(unread: readonly Problem[]): (problem: Problem) => Problem {
  const slips = new Map(unread.map(({ where, remedy }) => [`${ownerOf(where)} ${remedy}`, fieldOf(where)]))
  return (problem) => {
    const field = fieldOf(problem.where)
    const slip = slips.get(`${ownerOf(problem.where)} Did you mean ${field}?`)
    if (slip === undefined || !problem.what.endsWith('is missing.')) return problem
    return { ...problem, remedy: `Rename \`${slip}\` to \`${field}\`.` }
  }
}

function fieldOf(where: string): string {
  return where.slice(where.lastIndexOf('.') + 1)
}

function ownerOf(where: string): string {
  return where.slice(0, where.lastIndexOf('.') + 1)
}

/** Where a number may be written as a formula. */
function formulaPlaces(found: readonly FoundPart[]): { path: string; value: unknown }[] {
  return found.flatMap(({ path, part, kind }) =>
    Object.entries(kind.slots).flatMap(([slot, definition]) => {
      const value = part[slot]
      if (kind === parameter) return []
      if (definition.type === 'number') return [{ path: `${path}.${slot}`, value }]
      if (definition.type === 'table' && Array.isArray(value))
        return value.flatMap((row: unknown, i) =>
          Array.isArray(row) ? row.map((one: unknown, j) => ({ path: `${path}.${slot}.${i}.${j}`, value: one })) : [],
        )
      return definition.type === 'vector' && Array.isArray(value)
        ? value.map((one: unknown, i) => ({ path: `${path}.${slot}.${i}`, value: one }))
        : []
    }),
  )
}

/** A document with a parameter under another name, in all numbers and formulas that use it. */
export function withRenamedParameter(document: Document, from: string, to: string): Document {
  const found = partsOf(document as unknown as { [field: string]: unknown })
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
function withConstants(document: Document, found: readonly FoundPart[]): Document {
  const parameters = document.parameters ?? {}
  let changed = document
  for (const { path, part, kind } of found) {
    const machine = /^machines\.[^.]+|^loops\.[^.]+\.law/.exec(path)?.[0]
    if (machine === undefined) continue
    for (const [slot, definition] of Object.entries(kind.slots)) {
      if (definition.type !== 'formula') continue
      for (const used of namesIn(part[slot] as string)) {
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
function rangeProblems(where: string, part: Part): Problem[] {
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

function partsOf(document: { [field: string]: unknown }) {
  return (Object.keys(groups) as GroupName[]).flatMap((group) => {
    const named = document[group]
    if (typeof named !== 'object' || named === null) return []
    return Object.entries(named).flatMap(([name, part]) =>
      isPart(part) ? everyPart(groups[group], `${group}.${name}`, part) : [],
    )
  })
}

function slotAt(document: { [field: string]: unknown }, [group, name, ...rest]: readonly (string | number)[]): Slot | undefined {
  if (!(String(group) in groups)) return undefined
  const named = document[String(group)] as { [name: string]: unknown } | undefined
  return findSlot(groups[group as GroupName], named?.[String(name)], rest)
}

/** Names that lead nowhere, and two loops that push the same. */
function references(document: Document): Problem[] {
  const problems: Problem[] = []
  const expect = (where: string, given: unknown, known: readonly string[], what: string) => {
    const name = given as string
    if (known.includes(name)) return true
    const near = nearestName(name, known)
    const remedy = near === undefined ? `Known: ${known.join(', ') || 'none'}.` : `Did you mean ${near}?`
    problems.push({ where, what: `There is no ${what} named ${name}.`, remedy })
    return false
  }
  const machines = Object.keys(document.machines)
  const pushed = new Map<string, string>()
  for (const [name, part] of Object.entries(document.loops)) {
    if (expect(`loops.${name}.machine`, part.machine, machines, 'machine')) {
      const machine = document.machines[part.machine]!
      const known = (list: readonly { readonly name: string }[]) => list.map((one) => one.name)
      expect(`loops.${name}.holds`, part.holds, known(heldQuantities(machine)), 'quantity to hold')
      if ((part.point ?? '') !== '') expect(`loops.${name}.point`, part.point, pointNames(machine), 'operating point')
      if (commandedLoop(part.pushes) === undefined) expect(`loops.${name}.pushes`, part.pushes, known(pushesOf(machine)), 'push')
      problems.push(...readingProblems(document, `loops.${name}`, part, machine), ...filterProblems(`loops.${name}`, part))
      problems.push(...stopProblems(`loops.${name}`, part))
      problems.push(...limitProblems(`loops.${name}`, part), ...lawProblems(`loops.${name}.law`, part.law, machine))
    }
    const key = `${part.machine}.${part.pushes}`
    const other = pushed.get(key)
    if (other !== undefined) {
      problems.push({
        where: `loops.${name}.pushes`,
        what: `Both ${other} and ${name} push ${pushOf(document, part)?.label ?? part.pushes}.`,
        remedy: 'Let each push belong to one loop.',
      })
    }
    pushed.set(key, name)
  }
  problems.push(...chainProblems(document))
  for (const [name, part] of Object.entries(document.estimators)) {
    const path = `estimators.${name}`
    if (!expect(`${path}.machine`, part.machine, machines, 'machine')) continue
    const machine = document.machines[part.machine]!
    const kind = findKind(estimators, part)
    if (kind === undefined) continue
    const sensors = Object.entries(sensorsOf(machine))
    const needs = Object.entries(kind.needs ?? {}).map(([slot, sorts]) => {
      const suits = sensors.filter(([, sensor]) => sorts.includes(sensor.kind)).map(([one]) => one)
      return expect(`${path}.${slot}`, part[slot], suits, sensorWords(sorts[0]!))
    })
    if (needs.every(Boolean)) problems.push(...kind.problems(path, machine, part))
  }
  for (const [name, part] of Object.entries(document.trials)) {
    const path = `trials.${name}`
    if (!expect(`${path}.machine`, part.machine, machines, 'machine')) continue
    const machine = document.machines[part.machine]!
    problems.push(...durationProblems(path, part))
    const loops = Object.keys(document.loops).filter((one) => document.loops[one]!.machine === part.machine)
    for (const [cue, asked] of Object.entries(partsIn(part.cues))) {
      const where = `${path}.cues.${cue}.loop`
      const target = asked.loop
      problems.push(...(findKind(cues, asked)?.problems?.(`${path}.cues.${cue}`, asked) ?? []))
      const push = typeof target === 'string' ? cuedPush(target) : undefined
      if (push !== undefined) {
        const isSwitch = findKind(cues, asked)?.switchesTo !== undefined
        if (isSwitch) expect(where, target, loops, 'loop')
        else
          expect(
            where,
            push,
            pushesOf(machine).map(({ name: one }) => one),
            'push',
          )
        continue
      }
      if (!expect(where, target, loops, 'loop') || document.loops[target as string]!.reference === 'cue') continue
      if (findKind(cues, asked)?.switchesTo !== undefined) continue
      const what = `The loop ${target} holds ${referenceWords(document.loops[target as string]!)}, so a cue cannot move it.`
      problems.push({ where, what, remedy: `Let ${target} follow its cue, or choose another loop.` })
    }
    const numbers = everyNumber(machineKinds, machine).map(({ path: number }) => number)
    const parameters = Object.keys(document.parameters ?? {}).map((one) => `parameters.${one}`)
    for (const [key, change] of Object.entries(partsIn(part.overrides))) {
      const known = [...parameters, ...numbers]
      if (expect(`${path}.overrides.${key}.parameter`, change.parameter, known, 'number of the machine or parameter'))
        problems.push(...overrideProblems(`${path}.overrides.${key}`, machine, change))
    }
  }
  return problems
}

/** s: a trial that ends later is a slip in the time of a cue. */
const longestTrial = 7200

function durationProblems(path: string, part: Part): Problem[] {
  const duration = trialDuration(valuesOf(trial, part))
  if (!(duration > longestTrial)) return [] // a cue without an end is told by its own check
  const what = `The trial ends after ${duration} s; at most ${longestTrial} s are run.`
  return [{ where: `${path}.cues`, what, remedy: 'Let its cues come earlier.' }]
}

/** What a loop holds instead of its cue. */
function referenceWords(part: Part): string {
  return loop.slots.reference.options[partOf(loop, part).reference]
}

/** A law that needs a rate which the machine has not, or reads what nothing measures. */
function readingProblems(document: Document, path: string, loop: LoopPart, machine: Part): Problem[] {
  const problems: Problem[] = []
  const law = loop.law
  const held = findHeld(machine, loop.holds)
  if (held !== undefined && held.rate === undefined && findKind(laws, law)?.readsRate === true) {
    const what = `The law acts on the rate of ${held.name}, which this machine does not tell.`
    const remedy = 'Choose a law without a rate, hold its rate instead, or make the rate a state or output of its own.'
    problems.push({ where: `${path}.law`, what, remedy })
  }
  const read = readBy(loop, machine)
  if (loop.reads === 'measured' && held !== undefined) {
    const measured = new Set(measuringSensors(machine).map(({ quantity }) => quantity))
    for (const quantity of read.filter((one) => !measured.has(one)))
      problems.push({
        where: `${path}.reads`,
        what: `The loop reads measured values, but nothing measures ${quantity}.`,
        remedy: 'Give the machine a sensor of it, or let the loop read what it truly is.',
      })
  }
  // what an observer estimates is known once it is designed
  const isLater = estimatorsOn(document, loop).some(({ kind }) => kind.refused !== undefined)
  return isLater ? problems : [...problems, ...estimateProblems(document, path, loop, machine)]
}

/** Signals that a law reads and the machine has not, and what else its kind says of it. */
function lawProblems(path: string, law: Part, machine: Part): Problem[] {
  const kind = findKind(laws, law)
  const known = heldQuantities(machine).map(({ name }) => name)
  const strange = (kind?.signals?.(law) ?? []).filter((signal) => !known.includes(signal))
  return [
    ...strange.map((signal) => ({
      where: path,
      what: `The law reads ${signal}, which this machine does not have.`,
      remedy: nameRemedy(signal, known),
    })),
    ...(kind?.problems?.(path, law, known) ?? []),
  ]
}

function sensorWords(kind: string): string {
  return mechanismSensors.find(({ name }) => name === kind)?.label ?? nameInWords(kind)
}

function limitProblems(path: string, { least, most }: Part): Problem[] {
  if (!(typeof least === 'number' && typeof most === 'number' && least >= most)) return []
  const what = `The least command, ${least}, is not below the most, ${most}.`
  return [{ where: `${path}.least`, what, remedy: 'Swap them, or leave one out.' }]
}

/**
 * The same document with what a trial's changes of parameters do to the numbers of its machine beside them, as `numbers` of the
 * first of these changes: compiling knows numbers only, and no formulas.
 */
function withChangedParameters(
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
    const changes = everyNumber(machineKinds, truth.value).flatMap(({ path, value }) =>
      findAt(resolved.machines[machine], path) === value ? [] : [[path, value] as const],
    )
    const outside = changes.flatMap(([path, value]) => outOfRange(`${at}.${keys[0]!}`, resolved.machines[machine]!, path, value))
    problems.push(...outside.slice(0, 1))
    return replaceAt(next, `${at}.${keys[0]!}.numbers`, Object.fromEntries(changes))
  }, resolved)
  return problems.length > 0 ? refused(problems) : done(document)
}

/** A machine with its formulas worked out; refused where one of them gives no number. */
function machineOf(written: { readonly [field: string]: unknown }, found: readonly FoundPart[], machine: string): Outcome<Part> {
  const { document: numbers, problems } = resolveFormulas(written, formulaPlaces(found))
  const own = problems.filter(({ where }) => where.startsWith(`machines.${machine}.`) || where.startsWith('parameters.'))
  return own.length > 0 ? refused(own) : done(withConstants(numbers as unknown as Document, found).machines[machine]!)
}

/**
 * Makes a machine of a document as it is written anew, with some of the parameters times factors, and every number that is made
 * of them. The document is checked once, for however many machines.
 */
export function machinesWithParameters(
  written: Document,
  machine: string,
): Outcome<(factors: Readonly<Record<string, number>>) => Outcome<Part>> {
  const nominal = checkDocument(written)
  if (nominal.kind === 'refused') return nominal
  const { document, resolved } = nominal.value
  const values = resolved.parameters ?? {}
  const found = partsOf(document as unknown as { [field: string]: unknown })
  return done((factors) => {
    const asked = Object.entries(factors).reduce(
      (now, [name, factor]) => replaceAt(now, `parameters.${name}.value`, (values[name]!.value as number) * factor),
      document,
    )
    return machineOf(asked as unknown as { readonly [field: string]: unknown }, found, machine)
  })
}

/** A changed number must still be one that the machine could have. */
function overrideProblems(where: string, machine: Part, change: Part): Problem[] {
  const path = partOf(override, change).parameter
  // what a parameter changes is known once its formulas are worked out
  if (changedParameter(change) !== undefined) return []
  const value = everyNumber(machineKinds, machine).find((place) => place.path === path)!.value
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

/** What the changes of a trial together make of its machine must still be one. */
function trueMachineProblems(document: Document): Problem[] {
  return Object.entries(document.trials).flatMap(([name, part]): Problem[] => {
    const overrides = partsIn(part.overrides)
    const [first] = Object.keys(overrides)
    const machine = document.machines[part.machine]!
    if (first === undefined) return []
    const [problem] = machineProblems(`machines.${part.machine}`, trulyMade(machine, overrides))
    if (problem === undefined) return []
    const where = `trials.${name}.overrides.${first}`
    return [{ where, what: `As this trial changes it: ${problem.what}`, remedy: problem.remedy }]
  })
}

function estimatorsOn(document: Document, { machine }: Part) {
  return Object.values(document.estimators).flatMap((part) => {
    const kind = findKind(estimators, part)
    return kind === undefined || part.machine !== machine ? [] : [{ part, kind }]
  })
}

/** A loop that reads estimates of what nothing estimates. */
function estimateProblems(document: Document, path: string, loop: LoopPart, machine: Part): Problem[] {
  const held = findHeld(machine, loop.holds)
  if (loop.reads !== 'estimated' || held === undefined) return []
  const all = estimatorsOn(document, loop)
  const known = new Set(all.flatMap(({ part, kind }) => kind.estimates(machine, part)))
  // a tilt follows from the angles
  if (known.has(held.name) || held.vector?.attitude.some((angle) => known.has(angle)) === true) return []
  const blind = all.some(({ kind }) => kind.refused !== undefined)
  return [
    {
      where: `${path}.reads`,
      what: `The loop reads estimated values, but nothing estimates ${held.label}.`,
      remedy: blind
        ? 'Let the observer read what shows it, or let the loop read what it truly is.'
        : 'Add an estimator that gives it, or let the loop read what it truly is.',
    },
  ]
}
