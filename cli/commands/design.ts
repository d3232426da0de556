import { writeFileSync } from 'node:fs'
import Joi from 'joi'
import { bodilessPoint, designPoint, keptBy, linearMachine } from '@calm-hand/core/control'
import type { PointConditions } from '@calm-hand/core/control'
import { done, nameRemedy, refusedFor, replaceAt } from '@calm-hand/core/document'
import type { Document, Outcome, Part } from '@calm-hand/core/document'
import {
  assemble,
  atPoint,
  designLayers,
  fixableOf,
  fullMechanism,
  isBodiless,
  numbersOf,
  pointNames,
  runnableNames,
} from '@calm-hand/core/machine'
import {
  analyse,
  designLoop,
  edgeOfSwinging,
  followWithin,
  meet,
  modelOfLoop,
  relayExperiment,
  requirement,
  stepExperiment,
  usualIntegralCorner,
} from '@calm-hand/core/tuning'
import type { LoopModel, Met } from '@calm-hand/core/tuning'
import { short } from '@calm-hand/core/linear'
import { checkDocument } from '@calm-hand/core'
import { badFrom, badInput, fine } from '../output'
import type { Result } from '../output'
import { readDocument, readJson } from '../read'

export interface LinearizeOptions {
  readonly machine?: string
  readonly loop?: string
  readonly trim?: boolean
  readonly at?: string
}

/** linearize DOC --machine NAME, or --loop NAME for what that loop sees, opened at its command */
export function linearizeMachine(path: string, { machine, loop, at }: LinearizeOptions): Result {
  const found = readDocument(path)
  if (found.kind === 'refused') return badFrom(found)
  const { resolved: document } = found.value
  const name =
    machine ??
    (loop === undefined ? undefined : (document.loops[loop]?.machine as string | undefined)) ??
    Object.keys(document.machines)[0]
  const part = name === undefined ? undefined : document.machines[name]
  if (part === undefined)
    return badInput('--machine', `There is no machine named ${name}.`, `Known: ${Object.keys(document.machines).join(', ')}.`)
  if (loop !== undefined) return plantOfLoop(document, loop, part)
  if (at !== undefined && isBodiless(part)) {
    const what = 'A machine without bodies is linearized where its conditions put it.'
    return badInput('--at', what, 'Leave --at out, or name a machine of bodies on joints.')
  }
  return isBodiless(part) ? linearizedBodiless(part) : linearizedMechanism(part, at)
}

/** What a loop sees from its command: the machine, with the loops closed that are closed while it is designed. */
function plantOfLoop(document: Document, loop: string, machine: Part): Result {
  const model = modelOfLoop(document, loop)
  if (model.kind === 'refused') return badFrom(model)
  const whole = linearMachine(machine, designLayers.all)
  if (whole.kind === 'refused') return badFrom(whole)
  return answer({ ...model.value.model.plant, operatingPoint: whole.value.operatingPoint })
}

/** About the point where its conditions let it balance. */
function linearizedBodiless(machine: Part): Result {
  const point = bodilessPoint(machine, fullMechanism)
  if (point.kind === 'refused') return badFrom(point)
  const { system, form, states, inputs, residual, running } = point.value
  const operatingPoint = { states: byName(form.states, states), inputs: byName(form.inputs, inputs), residual, running }
  return answer({ ...system, operatingPoint })
}

function byName(list: readonly { name: string }[], values: readonly number[]): Record<string, number> {
  return Object.fromEntries(list.map(({ name }, i) => [name, values[i]!]))
}

interface AskedPoint {
  readonly point?: string
  readonly positions: Readonly<Record<string, number>>
  readonly held?: readonly string[]
  readonly fixed?: Readonly<Record<string, number>>
  readonly running?: readonly string[]
}

/** The machine at the point that is asked for, with conditions where they are not its own. */
interface PointAsked {
  readonly machine: Part
  readonly conditions?: PointConditions
}

const values = Joi.object().pattern(Joi.string(), Joi.number().strict())
const pointSchema = Joi.object({
  point: Joi.string(),
  positions: values.default({}),
  held: Joi.array().items(Joi.string()),
  fixed: values,
  running: Joi.array().items(Joi.string()),
})

/**
 * About the operating point that the document says, or one that a file says: from the positions that it names, holding what it
 * holds, with what it fixes and lets run on, or another point of the machine by its name.
 */
function linearizedMechanism(machine: Part, at: string | undefined): Result {
  const asked: Outcome<PointAsked> = at === undefined ? done({ machine }) : pointFrom(machine, at)
  if (asked.kind === 'refused') return badFrom(asked)
  const point = designPoint(asked.value.machine, asked.value.conditions)
  if (point.kind === 'refused') return badFrom(point)
  const { system, form, states, inputs, residual, held, runs } = point.value
  const operatingPoint = { states: byName(form.states, states), inputs: byName(form.inputs, inputs), residual, held, runs }
  return answer({ ...system, operatingPoint })
}

function pointFrom(machine: Part, path: string): Outcome<PointAsked> {
  const read = readJson(path)
  if (read.kind === 'refused') return read
  const { value, error } = pointSchema.validate(read.value, { convert: false }) as { value: AskedPoint; error?: Error }
  if (error !== undefined)
    return refusedFor(
      path,
      error.message.replaceAll('"', '`'),
      'Give { "positions": { "boom.angle": 0.6 }, "held": ["boom.angle"] }, or { "point": "cruise" }.',
    )
  const { point, positions: placed, held, fixed, running } = value
  const { positions, start } = assemble(machine, numbersOf(machine))
  const known = positions.map(({ name }) => name)
  const lists = [
    { given: point === undefined ? [] : [`points.${point}`], known: pointNames(machine), what: 'operating point' },
    { given: [...Object.keys(placed), ...(held ?? [])], known, what: 'position' },
    { given: Object.keys(fixed ?? {}), known: fixableOf(machine), what: 'signal to fix' },
    { given: running ?? [], known: runnableNames(machine), what: 'coordinate that could run on' },
  ]
  for (const list of lists) {
    const stranger = list.given.find((name) => !list.known.includes(name))
    if (stranger !== undefined)
      return refusedFor(`${path}: ${stranger}`, `There is no ${list.what} named ${stranger}.`, nameRemedy(stranger, list.known))
  }
  if (point !== undefined) return done({ machine: atPoint(machine, `points.${point}`) })
  const conditions = {
    q: start.map((one, i) => placed[known[i]!] ?? one),
    ...(held === undefined ? {} : { held }),
    ...(fixed === undefined ? {} : { fixed: new Map(Object.entries(fixed)) }),
    ...(running === undefined ? {} : { running }),
  }
  return done({ machine, conditions })
}

export interface TuneOptions {
  readonly loop: string
  readonly crossover?: string
  readonly phaseMargin?: string
  readonly timeConstant?: string
  readonly edge?: true
  readonly relay?: string
  readonly step?: string
  readonly table?: string
  readonly meet?: true
  readonly stepSize?: string
  readonly write?: string
}

/** tune DOC --loop NAME --crossover W --phase-margin DEG, or --time-constant S, --edge, --relay AMPLITUDE, --step SIZE, --meet */
export function tuneLoop(path: string, options: TuneOptions): Result {
  const found = readDocument(path)
  if (found.kind === 'refused') return badFrom(found)
  const { document, resolved } = found.value
  const model = modelOfLoop(resolved, options.loop)
  if (model.kind === 'refused') return badFrom(model)
  const met = options.meet === true ? metBy(resolved, model.value.model, options) : undefined
  if (met?.kind === 'refused') return badFrom(met)
  const tuning = met === undefined ? tuningFrom(options) : done<Part>({ kind: requirement.name, ...met.value.requirement })
  if (tuning.kind === 'refused') return badFrom(tuning)
  const changed = replaceAt<Document>(document, `loops.${options.loop}.tuning`, tuning.value)
  const checked = checkDocument(changed)
  if (checked.kind === 'refused') return badFrom(checked)
  const design = designLoop(checked.value.resolved, options.loop)
  if (design.kind === 'refused') return badFrom(design)
  if (options.write !== undefined) writeFileSync(options.write, `${JSON.stringify(changed, null, 2)}\n`)
  const tuned = {
    gains: gainsOf(design.value.gains, design.value.model.law.gains),
    achieved: achieved(checked.value.resolved, options.loop),
  }
  if (met === undefined) {
    const missed = notAchieved(checked.value.resolved, options.loop)
    return missed === undefined ? answer(tuned) : { ...answer({ ...tuned, notAchieved: missed }), status: 1 }
  }
  const { requirement: place, holds, wishes: kept } = met.value
  return { ...answer({ ...tuned, requirement: place, holds, kept }), status: holds ? 0 : 1 }
}

/** A crossover and margin that keep what the loop's sentence says it shall keep. */
function metBy(document: Document, model: LoopModel, { loop, stepSize = '1' }: TuneOptions): Outcome<Met> {
  const size = Number(stepSize)
  if (!(Math.abs(size) > 0))
    return refusedFor('--step-size', `The step is ${stepSize}.`, 'Give its size in the unit of what is held.')
  const found = meet([model], usualIntegralCorner, keptBy(document.loops[loop]!), size)
  return found.kind === 'met' ? done(found) : refusedFor(`loops.${loop}.keeps`, found.what, found.remedy)
}

/** What is asked, as the loop's tuning; or what is wrong with it. */
function tuningFrom({ crossover, phaseMargin, timeConstant, edge, relay, step, table }: TuneOptions): Outcome<Part> {
  if (edge === true) return done({ kind: edgeOfSwinging.name })
  if (relay !== undefined) return experiment('--relay', relay, relayExperiment, 'amplitude', table)
  if (step !== undefined) return experiment('--step', step, stepExperiment, 'size', table)
  if (timeConstant !== undefined) {
    const seconds = Number(timeConstant)
    if (!(seconds > 0))
      return refusedFor('--time-constant', `The time constant is ${timeConstant}.`, 'Give a number above 0, in s.')
    return done({ kind: followWithin.name, timeConstant: seconds })
  }
  const [w, degrees] = [Number(crossover), Number(phaseMargin)]
  if (!(w > 0))
    return refusedFor('--crossover', `The crossover is ${crossover ?? 'not given'}.`, 'Give a number above 0, in rad/s.')
  if (!(degrees > 0 && degrees < 180))
    return refusedFor('--phase-margin', `The phase margin is ${phaseMargin ?? 'not given'}.`, 'Give degrees between 0 and 180.')
  return done({ kind: requirement.name, crossover: w, phaseMargin: (degrees * Math.PI) / 180 })
}

/** An experiment of a size, with one of its tables. */
function experiment(
  flag: string,
  given: string,
  kind: typeof relayExperiment | typeof stepExperiment,
  slot: string,
  table: string = kind.slots.table.otherwise!,
): Outcome<Part> {
  const known = Object.keys(kind.slots.table.options)
  if (!known.includes(table))
    return refusedFor('--table', `There is no table named ${table}.`, `Give one of ${known.join(', ')}.`)
  const size = Number(given)
  if (!(size > 0)) return refusedFor(flag, `It is ${given}.`, 'Give a number above 0, in the unit of the push.')
  return done({ kind: kind.name, [slot]: size, table })
}

function gainsOf(gains: Readonly<Record<string, number>>, names: readonly string[]) {
  return Object.fromEntries(names.map((name) => [name, gains[name]]))
}

function achieved(document: Document, loop: string) {
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return undefined
  const found = analyse(design.value.model, design.value.gains)
  return {
    crossover: found.crossover,
    phaseMargin: found.phaseMargin === undefined ? undefined : (found.phaseMargin * 180) / Math.PI,
    gainMargin: found.gainMargin,
    sensitivityPeak: found.margins.sensitivityPeak,
    stable: found.stable,
  }
}

/** How near what was asked for must come, as a share. */
const asAsked = 1e-3

/** Why gains that do what was asked at its frequency are not what was meant; nothing where all is as it was asked. */
function notAchieved(document: Document, loop: string): { readonly what: string; readonly remedy: string } | undefined {
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return undefined
  const { model, gains, values } = design.value
  const { crossover, phaseMargin, stable, margins } = analyse(model, gains)
  if (!stable)
    return { what: 'The closed loop is not stable with these gains.', remedy: 'Ask for another crossover, or another law.' }
  const asked = values.tuning as { readonly kind: string; readonly crossover: number; readonly phaseMargin: number }
  if (asked.kind !== requirement.name || crossover === undefined || phaseMargin === undefined) return undefined
  if (Math.abs(crossover / asked.crossover - 1) <= asAsked) return undefined
  const others = margins.phase.filter(({ w }) => Math.abs(w / asked.crossover - 1) > asAsked)
  const all = others.map(({ w, margin }) => `at ${short(w)} rad/s with ${short((margin * 180) / Math.PI)}°`)
  const isSlower = crossover < asked.crossover
  return {
    what: `The loop gain crosses 1 at ${short(asked.crossover)} rad/s as asked, but also ${all.join(' and ')}: the machine swings there.`,
    remedy: isSlower
      ? `Ask for a crossover below ${short(crossover)} rad/s, add the rate or a filter that damps the swing, or another law.`
      : `Put a notch or a low-pass below ${short(crossover)} rad/s, or ask for a slower loop.`,
  }
}

function answer(value: unknown): Result {
  return fine(value, JSON.stringify(value, null, 2))
}
