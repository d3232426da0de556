import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { pushesOf } from '@calm-hand/core/machine'
import type { Push } from '@calm-hand/core/machine'
import { checks as checkKinds } from '@calm-hand/core/simulation'

/** The first push of a machine that no loop has yet. */
export function freePush(document: Document, name: string): Push | undefined {
  const machine = document.machines[name]
  const taken = new Set(loopsOf(document, name).map(({ pushes }) => pushes as string))
  return machine === undefined ? undefined : pushesOf(machine).find(({ name }) => !taken.has(name))
}

/** A document without a loop, without the cues that asked something of it and the checks that looked at it. */
export function withoutLoop(document: Document, name: string): Document {
  const { [name]: _gone, ...loops } = document.loops
  const trials = Object.entries(document.trials).map(([key, part]) => {
    const cues = Object.entries(partsIn(part.cues)).filter(([, cue]) => cue.loop !== name && !isOn(cue.signal, name))
    const checks = Object.entries(partsIn(part.checks)).filter(([, check]) => !looksAt(check, name))
    return [
      key,
      { ...part, cues: Object.fromEntries(cues), ...(part.checks === undefined ? {} : { checks: Object.fromEntries(checks) }) },
    ]
  })
  return { ...document, loops, trials: Object.fromEntries(trials) as Document['trials'] }
}

function looksAt(check: Part, loop: string): boolean {
  const signals = findKind(checkKinds, check)?.signals(check) ?? []
  return signals.some((signal) => isOn(signal, loop))
}

function isOn(signal: unknown, loop: string): boolean {
  return typeof signal === 'string' && signal.startsWith(`loops.${loop}.`)
}

export function loopsOf(document: Document, machine: string): readonly Part[] {
  return Object.values(document.loops).filter((loop) => loop.machine === machine)
}
