import { partsIn } from '../document'
import type { Part } from '../document'
import { findKind, isPart, labelOf, wordsOf } from '../kinds'
import { joints } from './joints'
import { readSignals } from './readings'

const groups = ['drives', 'pushes', 'forces', 'chains', 'readings', 'sensors', 'inputs', 'states', 'outputs', 'points'] as const

/** Coordinates that need no word beside their body's: there is one of them. */
const plain = new Set(['angle', 'travel'])

/** Speeds of joints without an axis of their own. */
const spoken: Readonly<Record<string, string>> = Object.fromEntries([
  ...['x', 'y', 'z'].flatMap((axis) => [
    [`w${axis}`, `rate about ${axis}`],
    [`v${axis}`, `speed along ${axis}`],
  ]),
  ['ahead', 'speed ahead'],
  ['aside', 'speed aside'],
])

/** Whether a body has several coordinates, so that each needs its word. */
function hasSeveral(body: Part | undefined): boolean {
  const joint = body?.joint
  return isPart(joint) && (findKind(joints, joint)?.positions.length ?? 0) > 1
}

/**
 * A signal, input or part of a machine as people say it: `drives.hoist` is hoist, `boom.angle` boom, `boom.rate` rate of
 * boom, `sensors.level.x` x of level. In the words of the machine's own labels where it has one.
 */
export function shortName(name: string, machine: Part | undefined): string {
  const read =
    machine === undefined || !name.startsWith('readings.') ? undefined : readSignals(machine).find((one) => one.name === name)
  if (read !== undefined) return read.label
  const pieces = name.split('.')
  const group = groups.find((one) => one === pieces[0])
  const [head, ...rest] = group === undefined ? pieces : pieces.slice(1)
  const found = (group === undefined ? ['bodies', 'states', 'outputs', 'inputs'] : [group]).flatMap((one) => {
    const parts = partsIn(machine?.[one])
    return parts?.[head!] ?? []
  })[0]
  const label = labelOf(found, head!)
  const more = rest.filter((word) => !plain.has(word) || hasSeveral(found)).map((word) => spoken[word] ?? wordsOf(word))
  return more.length === 0 ? label : `${more.join(' ')} of ${label}`
}
