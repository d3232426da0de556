/**
 * Tells only while fewer than `most` of what was told before are unheard: a listener that is slower misses what came between,
 * and nothing queues up before it. What is told `always` is told all the same. Gives whether it was told.
 */
export function whileHeard<Told>(
  most: number,
  tell: (told: Told) => Promise<void>,
): (make: () => Told, always: boolean) => boolean {
  let unheard = 0
  return (make, always) => {
    if (unheard >= most && !always) return false
    unheard++
    // who went away in the middle of it hears nothing more
    void tell(make()).then(
      () => void unheard--,
      () => undefined,
    )
    return true
  }
}
