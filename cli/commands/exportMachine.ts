import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { bodilessPoint, designPoint } from '@calm-hand/core/control'
import type { Outcome, Part } from '@calm-hand/core/document'
import { done, refusedFor } from '@calm-hand/core/document'
import { matricesToText, mechanismToUrdf } from '@calm-hand/core/formats'
import { fullMechanism, isBodiless, mechanism } from '@calm-hand/core/machine'
import type { StateSpace } from '@calm-hand/core/linear'
import { badFrom, badInput, fine } from '../output'
import type { Result } from '../output'
import { readDocument } from '../read'

export interface ExportOptions {
  readonly as: string
  readonly to: string
  readonly machine?: string
}

interface Made {
  readonly files: Readonly<Record<string, string>>
  /** What the format has no place for. */
  readonly left: readonly string[]
}

/** export DOC --machine NAME --as urdf|matrices --to DIR */
export function exportMachine(path: string, options: ExportOptions): Result {
  const found = readDocument(path)
  if (found.kind === 'refused') return badFrom(found)
  const { machines } = found.value.resolved
  const name = options.machine ?? Object.keys(machines)[0]
  const machine = name === undefined ? undefined : machines[name]
  if (name === undefined || machine === undefined)
    return badInput('--machine', `There is no machine named ${name ?? ''}.`, `Known: ${Object.keys(machines).join(', ')}.`)
  const made = makers[options.as]?.(machine, name)
  if (made === undefined)
    return badInput('--as', `The form ${options.as} is not known.`, `Known: ${Object.keys(makers).join(', ')}.`)
  if (made.kind === 'refused') return badFrom(made)
  const { files, left } = made.value
  try {
    mkdirSync(options.to, { recursive: true })
    for (const [file, text] of Object.entries(files)) writeFileSync(join(options.to, file), text)
  } catch (error) {
    return badInput(
      '--to',
      `${options.to} cannot be written: ${(error as Error).message}`,
      'Name a folder that you may write to.',
    )
  }
  const written = Object.keys(files).map((file) => join(options.to, file))
  const words = left.length === 0 ? '' : `\nThe format has no place for ${left.join('; ')}.`
  return fine({ written, left }, `Wrote ${written.join(' and ')}.${words}`)
}

const makers: Readonly<Record<string, (machine: Part, name: string) => Outcome<Made>>> = {
  urdf: (machine, name) => {
    if (machine.kind !== mechanism.name)
      return refusedFor(
        `machines.${name}`,
        'Only machines of bodies on joints can be robot descriptions.',
        'Choose another form, such as matrices.',
      )
    const made = mechanismToUrdf(machine, name)
    return made.kind === 'refused' ? made : done({ files: { [`${name}.urdf`]: made.value.text }, left: made.value.left })
  },
  matrices: (machine, name) => {
    const system = linearFormOf(machine)
    if (system.kind === 'refused') return system
    return done({
      files: {
        [`${name}.json`]: `${JSON.stringify(system.value, null, 2)}\n`,
        [`${name}.csv`]: matricesToText(system.value),
      },
      left: [],
    })
  },
}

function linearFormOf(machine: Part): Outcome<StateSpace> {
  const point = isBodiless(machine) ? bodilessPoint(machine, fullMechanism) : designPoint(machine)
  return point.kind === 'refused' ? point : done(point.value.system)
}
