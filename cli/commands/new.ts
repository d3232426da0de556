import { currentVersion, partsIn } from '@calm-hand/core/document'
import { writeFileSync } from 'node:fs'
import { checkDocument } from '@calm-hand/core'
import { parseUrdf, robotMachine } from '@calm-hand/core/formats'
import { badFrom, badInput, fine } from '../output'
import type { Result } from '../output'
import { readText } from '../read'

export interface NewOptions {
  readonly out: string
  readonly base?: string
}

/** new ROBOT.urdf --out DOC */
export function newDocument(path: string, { out, base = 'fixed' }: NewOptions): Result {
  if (base !== 'fixed' && base !== 'free')
    return badInput('--base', `The base is ${base}.`, 'Say fixed, for a root that stands on ground, or free.')
  const text = readText(path)
  if (text.kind === 'refused') return badFrom(text)
  const robot = parseUrdf(text.value)
  if (robot.kind === 'refused') return badFrom(robot)
  const { machine } = robotMachine(robot.value, base)
  const document = {
    format: 'calm-hand',
    version: currentVersion,
    title: robot.value.name,
    about: `${robot.value.links.length} links, from a robot description`,
    note: '',
    up: '+z',
    machines: { robot: machine },
    estimators: {},
    loops: {},
    trials: {},
    tray: {},
  }
  const checked = checkDocument(document)
  if (checked.kind === 'refused') return badFrom(checked)
  try {
    writeFileSync(out, `${JSON.stringify(document, null, 2)}\n`)
  } catch (error) {
    return badInput('--out', `The file cannot be written: ${(error as Error).message}`, 'Check the path.')
  }
  const bodies = Object.keys(partsIn(machine.bodies)).length
  return fine({ out, bodies }, `${out}: ${bodies} bodies.`)
}
