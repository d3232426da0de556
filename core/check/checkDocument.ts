import Joi from 'joi'
import { estimators, forwardProblems } from '../control'
import { done, migrate, mostDocumentCharacters, refused, refusedFor, rememberedOf, shapeProblem, valueOfJson } from '../document'
import type { Document, Outcome, Part, Problem } from '../document'
import { resolveFormulas } from '../formula'
import { findKind, problemsOf } from '../kinds'
import { machineProblems, missingMeshes } from '../machine'
import { rangeProblems, trueMachineProblems, withChangedParameters, withConstants } from './parameters'
import { formulaPlaces, holdersSchema, partsOf, shapeProblems, unreadFields, withPartsMet } from './parts'
import { estimateProblems, references } from './references'

/** The document itself; its parts are looked at one by one. Unknown fields pass and are kept. */
const outline = Joi.object({
  format: Joi.string().valid('calm-hand').required(),
  version: Joi.number().integer().required(),
  title: Joi.string().max(200).required(),
  about: Joi.string().max(400).allow('').required(),
  note: Joi.string().max(20_000).allow('').required(),
  up: Joi.string().valid('+z').required(),
})
  .concat(holdersSchema)
  .unknown(true)

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
  const remedy = 'Open the file in a text editor at the place named; numbers such as NaN have no place in JSON.'
  const value = valueOfJson(text, '', remedy)
  return value.kind === 'refused' ? value : checkDocument(value.value)
}

/** What was found of machines that were met before. */
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
  const written = withPartsMet(current.value, 'written')
  const found = partsOf(written)
  const unread = unreadFields(written)
  const { document, problems: formulaProblems, waiting } = resolveFormulas(written, formulaPlaces(written))
  const numbers = withPartsMet(document, 'resolved')
  const told = new Set([...waiting, ...formulaProblems.map(({ where }) => where)])
  const problems = [...problemsOf(outline, numbers, () => undefined), ...shapeProblems(numbers)]
    .filter(({ where }) => !told.has(where))
    .map(hintedBy(unread))
  if (problems.length + formulaProblems.length > 0) return refused([...formulaProblems, ...problems])
  const resolved = withPartsMet(withConstants(numbers as unknown as Document, found), 'resolved')
  const ofMachines = Object.entries(resolved.machines).map(([name, machine]) => ({
    name,
    problems: rememberedOf(machinesFound, machine, name, () => machineProblems(`machines.${name}`, machine)),
  }))
  const wrong = new Set(ofMachines.flatMap(({ name, problems: own }) => (own.length > 0 ? [name] : [])))
  const semantic = [
    ...ofMachines.flatMap(({ problems: own }) => own),
    ...Object.entries(resolved.parameters ?? {}).flatMap(([name, one]) => rangeProblems(`parameters.${name}.value`, one)),
    ...references(resolved, wrong),
  ]
  if (semantic.length > 0) return refused(semantic)
  const changed = withChangedParameters(written, resolved, found)
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
    document: written as unknown as Document,
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
