import { createInterface } from 'node:readline'
import { writeFileSync } from 'node:fs'
import type { Document, Outcome } from '@calm-hand/core/document'
import { done, nameRemedy, nearestName, refused, refusedFor, replaceAt, valueOfJson } from '@calm-hand/core/document'
import { recordToCsv } from '@calm-hand/core/formats'
import { trialLayers } from '@calm-hand/core/machine'
import type { AnyLayer, FindMesh } from '@calm-hand/core/machine'
import {
  compile,
  endedByChecks,
  judgedRun,
  layersOn,
  override,
  start,
  trialFigures,
  verdictsOf,
} from '@calm-hand/core/simulation'
import type { Program, Record as RunRecord } from '@calm-hand/core/simulation'
import { checkDocument } from '@calm-hand/core'
import type { Checked } from '@calm-hand/core'
import { badFrom, badInput, fine } from '../output'
import type { Result } from '../output'
import { readProject, trialOf } from '../read'

export interface RunOptions {
  readonly trial: string
  readonly seed?: string
  readonly set: readonly string[]
  readonly realism?: string
  readonly csv?: string
  readonly degrees?: boolean
  readonly stdin?: boolean
}

/** run DOC --trial NAME */
export async function runTrial(path: string, options: RunOptions): Promise<Result> {
  const found = readProject(path)
  if (found.kind === 'refused') return badFrom(found)
  const { checked, findMesh } = found.value
  const settings = settingsFrom(options.set)
  if (settings.kind === 'refused') return badFrom(settings)
  const changed = withParameters(checked, options.trial, settings.value)
  if (changed.kind === 'refused') return badFrom(changed)
  const document = changed.value
  const prepared = prepare(document, options, findMesh)
  if (prepared.kind === 'refused') return badFrom(prepared)
  const { program, layers, seed } = prepared.value
  const simulation = start(program)
  const choicesWith = (values: Values) => ({ trial: options.trial, layers: [...layers], seed, values })
  // many runs are compared with one another: the error of their steps is told for one alone
  const once = (values: Values) => endedByChecks(document, simulation.run(choicesWith(values)))
  if (options.stdin) return runMany(document, options.trial, program, once)
  const values = valuesFrom(settings.value, program)
  if (values.kind === 'refused') return badFrom(values)
  const record = judgedRun(document, program, simulation, choicesWith(values.value))
  if (options.csv !== undefined) writeFileSync(options.csv, recordToCsv(record, options.degrees === true ? 'degrees' : 'radians'))
  const value = summary(document, options.trial, record)
  return { ...fine(value, JSON.stringify(value, null, 2)), status: held(value) ? 0 : 1 }
}

type Values = { [path: string]: number }

function prepare(
  document: Document,
  options: RunOptions,
  findMesh: FindMesh,
): Outcome<{ program: Program; layers: ReadonlySet<AnyLayer>; seed: number }> {
  const found = trialOf(document, options.trial)
  if (found.kind === 'refused') return found
  const part = found.value
  const layers = options.realism === undefined ? done(layersOn(part as never)) : realismFrom(options.realism)
  if (layers.kind === 'refused') return layers
  const seed = options.seed === undefined ? (part.seed as number) : Number(options.seed)
  if (!Number.isInteger(seed) || seed < 0 || seed > 4294967295)
    return refusedFor('--seed', `The seed is ${options.seed}.`, 'Give a whole number from 0 to 4294967295.')
  const program = compile(document, options.trial, { layers: layers.value, seed, findMesh })
  return program.kind === 'refused' ? program : done({ program: program.value, layers: layers.value, seed })
}

/** What layers were called when lifters had layers of their own. */
const formerly: Readonly<Record<string, AnyLayer>> = {
  ...{ sensorNoise: 'sensorErrors', rotorLag: 'driveDynamics', rotorLimits: 'driveLimits', drag: 'air' },
}

/** `full`, `design` or such a start with layers taken off or put on: `full,-sensorErrors`. */
export function realismFrom(text: string): Outcome<ReadonlySet<AnyLayer>> {
  const chosen = new Set<AnyLayer>()
  for (const word of text.split(',').map((one) => one.trim())) {
    if (word === 'full' || word === 'design') {
      for (const { name, inDesign } of trialLayers) if (word === 'full' || inDesign) chosen.add(name)
      continue
    }
    const said = word.replace(/^[-+]/, '')
    const name = Object.hasOwn(formerly, said) ? formerly[said]! : said
    const layer = trialLayers.find((one) => one.name === name)
    if (layer === undefined) {
      const near = nearestName(
        name,
        trialLayers.map((one) => one.name),
      )
      return refusedFor(
        '--realism',
        `There is no layer named ${name}.`,
        near === undefined ? `Known: ${trialLayers.map((one) => one.name).join(', ')}.` : `Did you mean ${near}?`,
      )
    }
    if (word.startsWith('-')) chosen.delete(layer.name)
    else chosen.add(layer.name)
  }
  return done(chosen)
}

/** Parameters of the document, and as they truly are while loops and estimators keep those of the document. */
const parameterPath = /^(true\.)?parameters\.([^.]+)$/

/** Numbers made of parameters are worked out before there is a program: these are set in the document. */
function withParameters({ document, resolved }: Checked, trial: string, settings: readonly Setting[]): Outcome<Document> {
  const parameters = resolved.parameters ?? {}
  const asked = settings.flatMap(([path, value]) => {
    const [, truly, name] = parameterPath.exec(path) ?? []
    return name === undefined ? [] : [{ path, value, truly: truly !== undefined, name }]
  })
  const strange = asked.find(({ name }) => !Object.hasOwn(parameters, name))
  if (strange !== undefined) {
    const what = `There is no parameter named ${strange.name}.`
    return refusedFor(strange.path, what, nameRemedy(strange.name, Object.keys(parameters)))
  }
  // a trial that is not there is told where it is compiled
  if (asked.length === 0 || document.trials[trial] === undefined) return done(resolved)
  const changed = asked.reduce(
    (next, { value, truly, name }, i) =>
      truly
        ? replaceAt(next, `trials.${trial}.overrides.set${i}`, {
            ...{ kind: override.name, parameter: `parameters.${name}`, how: 'set', amount: value },
          })
        : replaceAt(next, `parameters.${name}.value`, value),
    document,
  )
  const checked = checkDocument(changed)
  return checked.kind === 'refused' ? checked : done(checked.value.resolved)
}

type Setting = readonly [path: string, value: number]

function settingsFrom(texts: readonly string[]): Outcome<readonly Setting[]> {
  const settings: Setting[] = []
  for (const setting of texts) {
    const [path, text] = [setting.slice(0, setting.indexOf('=')), setting.slice(setting.indexOf('=') + 1)]
    const number = Number(text)
    if (!setting.includes('=') || text.trim() === '' || !Number.isFinite(number))
      return refusedFor('--set', `${setting} does not set a number.`, 'Write --set path=value.')
    settings.push([path, number])
  }
  return done(settings)
}

function valuesFrom(settings: readonly Setting[], program: Program): Outcome<Values> {
  const values: Values = {}
  const known = program.parameters.map(({ path }) => path)
  for (const [path, number] of settings.filter(([one]) => !parameterPath.test(one))) {
    const problem = unknownPath(path, known)
    if (problem !== undefined) return refused([problem])
    values[path] = number
  }
  return done(values)
}

function unknownPath(path: string, known: readonly string[]) {
  if (known.includes(path)) return undefined
  const near = nearestName(path, known)
  return {
    where: path,
    what: `The program has no number at ${path}.`,
    remedy: near === undefined ? 'Numbers of the simulated machine start with `true.`; see `list`.' : `Did you mean ${near}?`,
  }
}

/** Value sets from standard input, one JSON object a line; one result a line. Compiled once. */
async function runMany(
  document: Document,
  trial: string,
  program: Program,
  once: (values: Values) => RunRecord,
): Promise<Result> {
  const known = program.parameters.map(({ path }) => path)
  let line = 0
  for await (const text of createInterface({ input: process.stdin })) {
    line++
    if (text.trim() === '') continue
    const read = valueOfJson(text, `line ${line}`, 'Give one object of paths and numbers a line.')
    if (read.kind === 'refused') return badFrom(read)
    const values = read.value as Values
    for (const [path, value] of Object.entries(values)) {
      const problem = unknownPath(path, known)
      if (problem !== undefined) return badFrom(refused([problem]))
      if (!Number.isFinite(value)) return badInput(path, `Line ${line} gives ${JSON.stringify(value)}.`, 'Give a finite number.')
    }
    process.stdout.write(`${JSON.stringify(summary(document, trial, once(values)))}\n`)
  }
  return { text: '', value: undefined, status: 0 }
}

/** Whether the run came to its end and every check held. */
function held({ ending, verdicts }: ReturnType<typeof summary>): boolean {
  return ending.kind === 'finished' && verdicts.every(({ outcome }) => outcome === 'holds')
}

function summary(document: Document, trial: string, record: RunRecord) {
  const { hash, ending, accuracy, cues = [], limits, time } = record
  return {
    hash,
    ending,
    accuracy,
    rows: time.length,
    cues,
    limits,
    figures: trialFigures(document, trial, record),
    verdicts: verdictsOf(document, trial, record),
  }
}
