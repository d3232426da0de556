import { writeFileSync } from 'node:fs'
import Joi from 'joi'
import { bodilessPoint, designPoint, linearMachine } from '@calm-hand/core/control'
import type { PointConditions } from '@calm-hand/core/control'
import { done, nameRemedy, refusedFor, replaceAt } from '@calm-hand/core/document'
import type { Document, Outcome, Part } from '@calm-hand/core/document'
import { assemble, designRealism, fullMechanism, isBodiless, mechanism, numbersOf } from '@calm-hand/core/machine'
import { analyse, designLoop, modelOfLoop, tune } from '@calm-hand/core/tuning'
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

/** linearize DOC --machine NAME, or --loop NAME for that loop's plant opened at its command */
export function linearize(path: string, { machine, loop, at }: LinearizeOptions): Result {
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
  if (part.kind === mechanism.name) return linearizedMechanism(part, at)
  if (at !== undefined) {
    const what = isBodiless(part)
      ? 'A machine without bodies is linearized where its conditions put it.'
      : 'A lifter is linearized about hover.'
    return badInput('--at', what, 'Leave --at out, or name a machine of bodies on joints.')
  }
  if (isBodiless(part)) return linearizedBodiless(part)
  const whole = linearMachine(part, designRealism)
  if (whole.kind === 'refused') return badFrom(whole)
  if (loop === undefined) {
    const { system, operatingPoint } = whole.value
    return answer({ ...system, operatingPoint })
  }
  const model = modelOfLoop(document, loop)
  if (model.kind === 'refused') return badFrom(model)
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

const pointSchema = Joi.object({
  positions: Joi.object().pattern(Joi.string(), Joi.number().strict()).default({}),
  held: Joi.array().items(Joi.string()),
})

/** About the point where it rests: from its start, or from the positions that a file names, holding what the file says. */
function linearizedMechanism(machine: Part, at: string | undefined): Result {
  const conditions = at === undefined ? done<PointConditions>({}) : conditionsFrom(machine, at)
  if (conditions.kind === 'refused') return badFrom(conditions)
  const point = designPoint(machine, conditions.value)
  if (point.kind === 'refused') return badFrom(point)
  const { system, form, states, inputs, residual, held } = point.value
  const operatingPoint = { states: byName(form.states, states), inputs: byName(form.inputs, inputs), residual, held }
  return answer({ ...system, operatingPoint })
}

function conditionsFrom(machine: Part, path: string): Outcome<PointConditions> {
  const read = readJson(path)
  if (read.kind === 'refused') return read
  const { value, error } = pointSchema.validate(read.value, { convert: false }) as {
    value: { positions: Readonly<Record<string, number>>; held?: readonly string[] }
    error?: Error
  }
  if (error !== undefined)
    return refusedFor(
      path,
      error.message.replaceAll('"', '`'),
      'Give { "positions": { "boom.angle": 0.6 }, "held": ["boom.angle"] }.',
    )
  const { positions, start } = assemble(machine, numbersOf(machine))
  const known = positions.map(({ name }) => name)
  const stranger = [...Object.keys(value.positions), ...(value.held ?? [])].find((name) => !known.includes(name))
  if (stranger !== undefined) {
    const remedy = nameRemedy(stranger, known)
    return refusedFor(`${path}: ${stranger}`, `There is no position named ${stranger}.`, remedy)
  }
  const q = start.map((one, i) => value.positions[known[i]!] ?? one)
  return done({ q, ...(value.held === undefined ? {} : { held: value.held }) })
}

export interface TuneOptions {
  readonly loop: string
  readonly crossover: string
  readonly phaseMargin: string
  readonly write?: string
}

/** tune DOC --loop NAME --crossover W --phase-margin DEG */
export function tuneLoop(path: string, options: TuneOptions): Result {
  const found = readDocument(path)
  if (found.kind === 'refused') return badFrom(found)
  const { document, resolved } = found.value
  const [crossover, degrees] = [Number(options.crossover), Number(options.phaseMargin)]
  if (!(crossover > 0))
    return badInput('--crossover', `The crossover is ${options.crossover}.`, 'Give a number above 0, in rad/s.')
  if (!(degrees > 0 && degrees < 180))
    return badInput('--phase-margin', `The phase margin is ${options.phaseMargin}.`, 'Give degrees between 0 and 180.')
  const model = modelOfLoop(resolved, options.loop)
  if (model.kind === 'refused') return badFrom(model)
  const phaseMargin = (degrees * Math.PI) / 180
  const tuned = tune(model.value.model, { crossover, phaseMargin, integralCorner: 0.125 })
  if (tuned.kind === 'outOfReach') return badInput(`loops.${options.loop}.tuning`, tuned.what, tuned.remedy)
  const changed = replaceAt<Document>(document, `loops.${options.loop}.tuning`, { kind: 'requirement', crossover, phaseMargin })
  const checked = checkDocument(changed)
  if (checked.kind === 'refused') return badFrom(checked)
  if (options.write !== undefined) writeFileSync(options.write, `${JSON.stringify(changed, null, 2)}\n`)
  return answer({
    gains: gainsOf(tuned.gains, model.value.model.law.gains),
    achieved: achieved(checked.value.resolved, options.loop),
  })
}

function gainsOf(gains: Readonly<Record<'kp' | 'ki' | 'kd', number>>, names: readonly ('kp' | 'ki' | 'kd')[]) {
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

function answer(value: unknown): Result {
  return fine(value, JSON.stringify(value, null, 2))
}
