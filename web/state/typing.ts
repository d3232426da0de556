import { useEffect, useState } from 'react'
import type { Typing } from './browserDatabase'

/** The text under the hand, and text that a page before this one left open. */
let current: Typing | undefined
let restored: Typing | undefined
let changed: () => void = () => undefined

/** Text of an open slot that is not yet taken: part of the draft. */
export function typingNow(): Typing | undefined {
  return current ?? restored
}

/** Who keeps drafts is told of each letter. */
export function onTyping(listener: () => void): void {
  changed = listener
}

/** The slot that has this path opens by itself with what was typed there. */
export function restoreTyping(typing: Typing | undefined): void {
  current = undefined
  restored = typing
}

/** The text of a slot while it is open, kept with the draft; nothing while it is closed. */
export function useTyped(path: string): [string | undefined, (text: string | undefined) => void] {
  const [text, setText] = useState(() => {
    if (restored?.path !== path) return undefined
    const found = restored
    current = found
    restored = undefined // the first slot of that path, not every one
    return found.text
  })
  // a station that is left with its slot open finds it so again
  useEffect(
    () => () => {
      if (current?.path !== path) return
      restored = current
      current = undefined
    },
    [path],
  )
  const follow = (next: string | undefined) => {
    setText(next)
    current = next === undefined ? undefined : { path, text: next }
    changed()
  }
  return [text, follow]
}
