import { sharing } from './sharing'

/** Characters of the texts that are kept, of all documents together. */
const mostCharacters = 4_000_000
const mostPlaces = 2_000

/** What was met, by its JSON; the longest unused first. */
const byText = new Map<string, object>()
/** What was met last at each place of a document, as long as something else keeps it. */
const byPlace = new Map<string, WeakRef<object>>()
const all = new WeakSet<object>()
let characters = 0

/**
 * The very part that was met before where this one is as that, also one of another document: what is remembered of it need not be
 * looked for again. A part that changed shares what did not with the one met last at its place.
 */
export function met<Value extends object>(place: string, value: Value): Value {
  if (all.has(value)) return value
  const text = JSON.stringify(value)
  const before = byText.get(text)
  // JSON has no words for everything that a page may hold: what is not quite the same is not taken for it
  const same = sharing(value, before ?? byPlace.get(place)?.deref())
  if (byPlace.size >= mostPlaces) byPlace.clear()
  byPlace.set(place, new WeakRef(same))
  byText.delete(text)
  byText.set(text, same)
  all.add(same)
  characters += before === undefined ? text.length : 0
  for (const [old] of byText) {
    if (characters <= mostCharacters) break
    byText.delete(old)
    characters -= old.length
  }
  return same
}
