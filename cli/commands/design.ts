import { writeFileSync } from 'node:fs'
import { linearMachine } from '@calm-hand/core/control'
import { replaceAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { designRealism } from '@calm-hand/core/machine'
import { analyse, designLoop, modelOfLoop, tune } from '@calm-hand/core/tuning'
import { checkDocument } from '@calm-hand/core'
import { badFrom, badInput, fine } from '../output'
import type { Result } from '../output'
import { readDocument } from '../read'

export interface LinearizeOptions {
  readonly machine?: string
  readonly loop?: string
  readonly trim?: boolean
}

/** linearize DOC --machine NAME, or --loop NAME for that loop's plant opened at its command */
export function linearize(path: string, { machine, loop }: LinearizeOptions): Result {
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
