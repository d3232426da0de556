import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { pushesOf } from '@calm-hand/core/machine'
import type { Push } from '@calm-hand/core/machine'

/** The first push of a machine that no loop has yet. */
export function freePush(document: Document, name: string): Push | undefined {
  const machine = document.machines[name]
  const taken = new Set(loopsOf(document, name).map(({ pushes }) => pushes as string))
  return machine === undefined ? undefined : pushesOf(machine).find(({ name }) => !taken.has(name))
}

/** A document without a loop, and without the cues that asked something of it. */
export function withoutLoop(document: Document, name: string): Document {
  const { [name]: _gone, ...loops } = document.loops
  const trials = Object.entries(document.trials).map(([key, part]) => {
    const cues = Object.entries(partsIn(part.cues)).filter(([, cue]) => cue.loop !== name)
    return [key, { ...part, cues: Object.fromEntries(cues) }]
  })
  return { ...document, loops, trials: Object.fromEntries(trials) as Document['trials'] }
}

export function loopsOf(document: Document, machine: string): readonly Part[] {
  return Object.values(document.loops).filter((loop) => loop.machine === machine)
}
