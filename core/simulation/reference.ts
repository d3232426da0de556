import { Graph, and, assign, atMost, derivatives, less, loadModule, mul, printWasm, select, sum } from '../expression'
import type { Flag, Scalar } from '../expression'
import { asCued, cuedPush, shaped, shapers } from '../control'
import { partsIn, rememberedOf } from '../document'
import type { Document, Part } from '../document'
import { everyNumber } from '../kinds'
import { playedCues } from './cues'
import type { PlayedCue, Remember } from './cues'
import { Layout, slotOf } from './layout'

/** What cues ask of a loop about where it rests, as its shapers pass it on, over time; or of a push, as they are. */
export function cuedReference(
  document: Document,
  played: readonly PlayedCue[],
  loop: string,
  keep: Remember,
): (t: Scalar) => Scalar {
  const mine = played.filter(({ kind, part }) => kind.value !== undefined && part.loop === loop)
  const plain = (t: Scalar) => sum(mine.map((cue) => askedBy(cue, t)))
  if (mine.length === 0 || document.loops[loop] === undefined) return plain
  const shaping = Object.entries(partsIn(document.loops[loop]?.shaping))
  return shaped(
    shaping.map(([name, part]) => {
      const kept = new Map(
        everyNumber(shapers, part).map(({ path, value }) => [path, keep(`loops.${loop}.shaping.${name}.${path}`, value)]),
      )
      return { part, read: (path: string) => kept.get(path)! }
    }),
    plain,
  )
}

/** What one cue adds: nothing once something has ended it. */
function askedBy({ kind, part, read, cut }: PlayedCue, t: Scalar): Scalar {
  const value = kind.value!(t, read, part)
  return cut === undefined ? value : select(less(t, cut), value, 0)
}

/** Whether the feedback of a loop is on at a time; `undefined` where no cue of the trial switches it. */
export function feedbackOf(document: Document, played: readonly PlayedCue[], loop: string): ((t: Scalar) => Flag) | undefined {
  const switches = played.flatMap(({ kind, part, begins, cut }) => {
    const isOn = kind.switchesTo?.(part)
    if (isOn === undefined || part.loop !== loop) return []
    return [{ isOn, when: begins }, ...(cut === undefined ? [] : [{ isOn: !isOn, when: cut }])]
  })
  if (switches.length === 0) return undefined
  const first = { isOn: (document.loops[loop]!.closed === true ? 1 : 0) as Scalar, at: -1 as Scalar }
  // the last one that has come counts
  return (t) =>
    less(
      0.5,
      switches.reduce((now, { isOn, when }) => {
        const counts = and(atMost(when, t), atMost(now.at, when))
        return { isOn: select(counts, isOn ? 1 : 0, now.isOn), at: select(counts, when, now.at) }
      }, first).isOn,
    )
}

/** The pushes of the machine that cues of a trial move, with what they add to each over time. */
export function cuedPushes(
  document: Document,
  played: readonly PlayedCue[],
  keep: Remember,
): ReadonlyMap<string, (t: Scalar) => Scalar> {
  const pushes = played.flatMap(({ part }) => (typeof part.loop === 'string' ? (cuedPush(part.loop) ?? []) : []))
  return new Map([...new Set(pushes)].map((push) => [push, cuedReference(document, played, asCued(push), keep)]))
}

/** A reference with its first two derivatives in time. `value` depends on the slot, which grows by 1 in `pace` seconds. */
export function withDerivatives(value: Scalar, slot: number, pace: number): readonly [Scalar, Scalar, Scalar] {
  const rate = mul(derivatives([value], slot)[0]!, 1 / pace)
  const acceleration = mul(derivatives([rate], slot)[0]!, 1 / pace)
  return [value, rate, acceleration]
}

/** Numbers of the document as they are typed. */
export const asTyped = (_path: string, value: number) => value

/** The cues of a trial by the clock: what waits for a condition has not come. */
export function typedCues(document: Document, trial: string): readonly PlayedCue[] {
  return playedCues(document.trials[trial]!, asTyped)
}

/** When the cues of a trial come by the clock, s; `never` of those that wait for a condition. */
export function cueTimes(
  trial: Part,
): readonly { readonly name: string; readonly begins: number; readonly over: number; readonly cut: number | undefined }[] {
  return playedCues(trial, asTyped).map(({ name, begins, over, cut }) => ({
    name,
    ...{ begins: begins as number, over: over as number, cut: cut as number | undefined },
  }))
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
  const asked = cuedReference(document, typedCues(document, trial), loop, asTyped)(time)
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
