import { choice, formula, name, number } from '../../kinds'
import type { Kind } from '../../kinds'
import type { Part } from '../../document'

const edge = choice({ label: 'edge', options: { ends: 'is over', begins: 'begins' }, otherwise: 'ends' })
const cue = name({ label: 'other cue', of: 'sibling' })
const condition = formula({ label: 'condition', unit: '' })

const whenHolds = {
  name: 'whenHolds',
  label: 'once a condition holds',
  says: 'after {condition}',
  about:
    'The cue begins so long after the condition held for the first time; judged once a tick. `until` in it is hysteresis, `for 0.2 s` asks that it lasts.',
  slots: { condition },
} as const satisfies Kind & { readonly label: string }

const afterCue = {
  name: 'afterCue',
  label: 'after another cue',
  says: 'after {cue} {edge}',
  about: 'The cue begins so long after another one begins, or is over.',
  slots: { cue, edge },
} as const satisfies Kind & { readonly label: string }

const hand = name({ label: 'hand', of: 'hand' })

const whenPressed = {
  name: 'whenPressed',
  label: 'once a hand is pressed',
  says: 'after {hand} is pressed',
  about: 'The cue begins so long after a button is pressed, or a switch goes on: each time anew.',
  slots: { hand },
} as const satisfies Kind & { readonly label: string }

/** What a cue may wait for instead of the clock: its time counts from there. */
export const starts: readonly (Kind & { readonly label: string })[] = [whenHolds, afterCue, whenPressed]

const lasting = {
  name: 'lasting',
  label: 'after a time',
  says: 'for {time}',
  about: 'The cue ends so long after it began.',
  slots: { time: number({ label: 'how long', unit: 's', above: 0, most: 1e5 }) },
} as const satisfies Kind & { readonly label: string }

const untilHolds = {
  name: 'untilHolds',
  label: 'once a condition holds',
  says: 'until {condition}',
  about: 'The cue ends when the condition holds for the first time after it began.',
  slots: { condition },
} as const satisfies Kind & { readonly label: string }

const untilCue = {
  name: 'untilCue',
  label: 'with another cue',
  says: 'until {cue} {edge}',
  about: 'The cue ends when another one begins, or is over.',
  slots: { cue, edge },
} as const satisfies Kind & { readonly label: string }

const untilLetGo = {
  name: 'untilLetGo',
  label: 'once a hand lets go',
  says: 'until {hand} is let go',
  about: 'The cue ends when a button is let go, or a switch goes off.',
  slots: { hand },
} as const satisfies Kind & { readonly label: string }

/** What may end a cue before its own end: what it asked for, changed or altered is then taken back. */
export const ends: readonly (Kind & { readonly label: string })[] = [lasting, untilHolds, untilCue, untilLetGo]

/** What a cue waits for: a condition, a hand, or the begin or end of another cue. */
export interface Waits {
  readonly condition?: string
  readonly hand?: string
  readonly cue?: string
  readonly edge: 'begins' | 'ends'
}

export function waitsOf(part: Part | undefined): Waits | undefined {
  if (part === undefined || part.kind === lasting.name) return undefined
  const known = { edge: part.edge === 'begins' ? ('begins' as const) : ('ends' as const) }
  if (typeof part.condition === 'string') return { ...known, condition: part.condition }
  if (typeof part.hand === 'string') return { ...known, hand: part.hand }
  return typeof part.cue === 'string' ? { ...known, cue: part.cue } : undefined
}

/** s: how long it lasts, where its end says so. */
export function lastsOf(part: Part | undefined): number | undefined {
  return part?.kind === lasting.name ? (part.time as number) : undefined
}

/** Makes the end of a cue a length of time. */
export function lastingFor(time: number): Part {
  return { kind: lasting.name, time }
}

/** The sentence of a cue with what it waits for and what ends it in its place. */
export function fullSentence(says: string, cue: Part): string {
  const inner = (slot: 'waits' | 'until', kinds: readonly Kind[]) => {
    const kind = kinds.find(({ name: one }) => one === (cue[slot] as Part | undefined)?.kind)
    return kind?.says.replaceAll(/\{(\w+)\}/g, (whole, name: string) => (name in kind.slots ? `{${slot}.${name}}` : whole))
  }
  const waits = inner('waits', starts)
  const until = inner('until', ends)
  const begun = waits === undefined ? says : says.replace(/^(At|From) \{at\}/, `{at} ${waits}`)
  return until === undefined ? begun : begun.replace(/\.$/, `, ${until}.`)
}
