import { Graph, derivatives, evaluation, mul, sum } from '../expression'
import type { Scalar } from '../expression'
import { shaped, shapers } from '../control'
import type { Document, Part } from '../document'
import { everyNumber, findKind } from '../kinds'
import { cues } from './cues'

/** Where a number of the document comes from: itself, or memory of a program. */
export type Keep = (path: string, value: number) => Scalar

/** What cues ask of a loop about where it rests, as its shapers pass it on, over time. */
export function askedOf(document: Document, trial: string, loop: string, keep: Keep): (t: Scalar) => Scalar {
  const read = (where: string, part: Part) => {
    const numbers = everyNumber([...cues, ...shapers], part)
    const kept = new Map(numbers.map(({ path, value }) => [path, keep(`${where}.${path}`, value)]))
    return (path: string) => kept.get(path)!
  }
  const mine = Object.entries(document.trials[trial]!.cues as Readonly<Record<string, Part>>).flatMap(([name, cue]) => {
    const kind = findKind(cues, cue)
    return kind === undefined || cue.loop !== loop ? [] : [{ kind, cue, numbers: read(`cues.${name}`, cue) }]
  })
  const plain = (t: Scalar) => sum(mine.map(({ kind, cue, numbers }) => kind.value(t, numbers, cue)))
  const shaping = Object.entries((document.loops[loop]?.shaping ?? {}) as Readonly<Record<string, Part>>)
  if (mine.length === 0) return plain
  return shaped(
    shaping.map(([name, part]) => ({ part, read: read(`loops.${loop}.shaping.${name}`, part) })),
    plain,
  )
}

/** A reference with its first two derivatives in time. `value` depends on the slot, which grows by 1 in `pace` seconds. */
export function withDerivatives(value: Scalar, slot: number, pace: number): readonly [Scalar, Scalar, Scalar] {
  const rate = mul(derivatives([value], slot)[0]!, 1 / pace)
  const acceleration = mul(derivatives([rate], slot)[0]!, 1 / pace)
  return [value, rate, acceleration]
}

/** A reference as numbers: value, rate and acceleration at a time. */
export type ReferenceMotion = (t: number) => readonly [value: number, rate: number, acceleration: number]

/** What a trial asks of a loop, about where it rests. */
export function askedMotion(document: Document, trial: string, loop: string): ReferenceMotion {
  const graph = new Graph()
  const asked = askedOf(document, trial, loop, (_path, value) => value)(graph.slot(0))
  const all = withDerivatives(asked, 0, 1)
  return (t) => {
    const values = evaluation([t])
    return all.map((one) => values.number(one)) as unknown as [number, number, number]
  }
}
