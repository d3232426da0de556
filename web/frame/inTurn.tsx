import { memo, useEffect, useState } from 'react'
import type { ComponentType } from 'react'
import { isAnsweredHere } from '../compute'

/** What is to be drawn anew, each in a task of its own. */
const turns = new Set<() => void>()
let channel: MessageChannel | undefined

function takeTurn(): void {
  const [next] = turns
  if (next === undefined) return
  turns.delete(next)
  if (turns.size > 0) channel!.port2.postMessage(undefined)
  next()
}

/** Has something done in its turn; what it returns takes it back. */
function inItsTurn(draw: () => void): () => void {
  if (channel === undefined) {
    channel = new MessageChannel()
    channel.port1.onmessage = takeTurn
  }
  turns.add(draw)
  if (turns.size === 1) channel.port2.postMessage(undefined)
  return () => void turns.delete(draw)
}

/**
 * A part of a page that is drawn anew in a task of its own: where an answer is drawn in many charts, the page takes what the
 * hand does between any two of them. During a drag it draws the last that came.
 */
export function drawnInTurn<Props extends object>(Part: ComponentType<Props>): ComponentType<Props> {
  return memo(function InTurn(props: Props) {
    const [shown, show] = useState(props)
    useEffect(() => (shown === props ? undefined : inItsTurn(() => show(props))), [props, shown])
    return <Part {...(isAnsweredHere() ? props : shown)} />
  }) as unknown as ComponentType<Props>
}
