import { Graph, assign, atMost, derivatives, less, loadModule, mul, printWasm, select, sum } from '../expression'
import type { Flag, Scalar } from '../expression'
import { asCued, cuedPush, shaped, shapers } from '../control'
import { partsIn, rememberedOf } from '../document'
import type { Document, Part } from '../document'
import { everyNumber, findKind } from '../kinds'
import { cues } from './cues'
import { Layout, slotOf } from './layout'

/** Where a number of the document comes from: itself, or memory of a program. */
export type Remember = (path: string, value: number) => Scalar

/** What cues ask of a loop about where it rests, as its shapers pass it on, over time; or of a push, as they are. */
export function cuedReference(document: Document, trial: string, loop: string, keep: Remember): (t: Scalar) => Scalar {
  const read = (where: string, part: Part) => {
    const numbers = everyNumber([...cues, ...shapers], part)
    const kept = new Map(numbers.map(({ path, value }) => [path, keep(`${where}.${path}`, value)]))
    return (path: string) => kept.get(path)!
  }
  const mine = Object.entries(partsIn(document.trials[trial]!.cues)).flatMap(([name, cue]) => {
    const kind = findKind(cues, cue)
    return kind === undefined || cue.loop !== loop ? [] : [{ kind, cue, numbers: read(`cues.${name}`, cue) }]
  })
  const plain = (t: Scalar) => sum(mine.map(({ kind, cue, numbers }) => kind.value(t, numbers, cue)))
  if (mine.length === 0 || document.loops[loop] === undefined) return plain
  const shaping = Object.entries(partsIn(document.loops[loop]?.shaping))
  return shaped(
    shaping.map(([name, part]) => ({ part, read: read(`loops.${loop}.shaping.${name}`, part) })),
    plain,
  )
}

/** Whether the feedback of a loop is on at a time; `undefined` where no cue of the trial switches it. */
export function feedbackOf(document: Document, trial: string, loop: string, keep: Remember): ((t: Scalar) => Flag) | undefined {
  const switches = Object.entries(partsIn(document.trials[trial]!.cues)).flatMap(([name, cue]) => {
    const isOn = findKind(cues, cue)?.switchesTo?.(cue)
    return isOn === undefined || cue.loop !== loop
      ? []
      : [{ isOn, at: cue.at as number, when: keep(`cues.${name}.at`, cue.at as number) }]
  })
  if (switches.length === 0) return undefined
  const first: Scalar = document.loops[loop]!.closed === true ? 1 : 0
  switches.sort((a, b) => a.at - b.at)
  // the last one that has come counts
  return (t) =>
    less(
      0.5,
      switches.reduce<Scalar>((now, { isOn, when }) => select(atMost(when, t), isOn ? 1 : 0, now), first),
    )
}

/** The pushes of the machine that cues of a trial move, with what they add to each over time. */
export function cuedPushes(document: Document, trial: string, keep: Remember): ReadonlyMap<string, (t: Scalar) => Scalar> {
  const targets = Object.values(partsIn(document.trials[trial]!.cues)).map(({ loop }) => loop as string)
  const pushes = targets.flatMap((target) => cuedPush(target) ?? [])
  return new Map([...new Set(pushes)].map((push) => [push, cuedReference(document, trial, asCued(push), keep)]))
}

/** A reference with its first two derivatives in time. `value` depends on the slot, which grows by 1 in `pace` seconds. */
export function withDerivatives(value: Scalar, slot: number, pace: number): readonly [Scalar, Scalar, Scalar] {
  const rate = mul(derivatives([value], slot)[0]!, 1 / pace)
  const acceleration = mul(derivatives([rate], slot)[0]!, 1 / pace)
  return [value, rate, acceleration]
}

/** A reference as numbers: value, rate and acceleration at a time. */
export type ReferenceMotion = (t: number) => readonly [value: number, rate: number, acceleration: number]

/** By trial, which nobody changes in place: a drag of a gain asks for the same motion again. */
const motions = new WeakMap<Part, Map<string, ReferenceMotion>>()

/** What a trial asks of a loop, about where it rests: compiled, since predictions ask for it at every sample. */
export function askedMotion(document: Document, trial: string, loop: string): ReferenceMotion {
  const part = document.trials[trial]!
  const key = `${loop} ${JSON.stringify(document.loops[loop]?.shaping ?? {})}`
  return rememberedOf(motions, part, key, () => compiledMotion(document, trial, loop))
}

function compiledMotion(document: Document, trial: string, loop: string): ReferenceMotion {
  const graph = new Graph()
  const layout = new Layout(graph)
  const time = layout.one()
  const out = layout.many(3)
  const asked = cuedReference(document, trial, loop, (_path, value) => value)(time)
  const motion = withDerivatives(asked, slotOf(time), 1)
  if (isKnown(motion)) return () => motion
  const values = motion.map((value, i) => ({ slot: slotOf(out[i]!), value }))
  const loaded = loadModule(printWasm({ slots: layout.slots, procedures: [{ name: 'motion', body: [assign(values)] }] }))
  const memory = loaded.memory()
  return (t) => {
    memory[slotOf(time)] = t
    loaded.call('motion')
    return [memory[slotOf(out[0]!)]!, memory[slotOf(out[1]!)]!, memory[slotOf(out[2]!)]!]
  }
}

/** Whether it does not change with time, as of loops that no cue moves. */
function isKnown(motion: readonly Scalar[]): motion is ReturnType<ReferenceMotion> {
  return motion.every((value) => typeof value === 'number')
}
