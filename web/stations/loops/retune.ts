import { toast } from 'sonner'
import type { Document } from '@calm-hand/core/document'
import { askOnce } from '../../state/askOnce'
import { edit } from '../../state/project'

/** Brings every stale loop back to what it was made for, as one step of undo. */
export async function retune(document: Document): Promise<void> {
  const answer = await askOnce('retuned', document)
  if (answer === undefined) return
  const { document: next, done, beyond } = answer
  for (const { name, what } of beyond) toast(`${name} stays as it is. ${what}`)
  if (done.length === 0) return
  const tunings = done.map((name) => [name, next.loops[name]!.tuning] as const)
  edit({
    label: `Retune ${done.join(', ')}`,
    apply: (now) => ({
      ...now,
      loops: { ...now.loops, ...Object.fromEntries(tunings.map(([name, tuning]) => [name, { ...now.loops[name]!, tuning }])) },
    }),
  })
}
