/** What is to be told with the next frame. */
let waiting: (() => void)[] = []
let fallback: number | undefined

/** A page that is not drawn has no frames: it is told all the same, ms. */
const hiddenMs = 100

/**
 * Tells with the next frame, all that came until then together: answers arrive one by one, and each by itself would have the
 * page drawn anew several times for one step of a drag. What is told just before a frame is in that frame.
 */
export function inFrame(tell: () => void): void {
  waiting.push(tell)
  if (waiting.length > 1) return
  requestAnimationFrame(flush)
  fallback = window.setTimeout(flush, hiddenMs)
}

function flush(): void {
  window.clearTimeout(fallback)
  const now = waiting
  waiting = []
  for (const tell of now) tell()
}
