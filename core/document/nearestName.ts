/** Letters of a name that is still compared: no name that may be used is longer, and the distance costs their product. */
const longestCompared = 80

/** The known name that a misspelt one most likely meant, if any is close. */
export function nearestName(given: string, known: readonly string[]): string | undefined {
  if (given.length > longestCompared) return undefined
  const ranked = known
    .filter((name) => name.length <= longestCompared)
    .map((name) => ({ name, distance: editDistance(given.toLowerCase(), name.toLowerCase()) }))
    .sort((a, b) => a.distance - b.distance)
  const best = ranked[0]
  return best !== undefined && best.distance <= Math.max(2, given.length / 3) ? best.name : undefined
}

/** Names in a remedy: more are not read. */
const mostListed = 12

/** What would put an unknown name right: the nearest known one, or else what is known. */
export function nameRemedy(given: string, known: readonly string[]): string {
  const near = nearestName(given, known)
  return near === undefined ? `Known: ${known.slice(0, mostListed).join(', ') || 'none'}.` : `Did you mean ${near}?`
}

/** Levenshtein's distance: least number of letters added, dropped or changed. */
function editDistance(a: string, b: string): number {
  let previous = Array.from({ length: b.length + 1 }, (_, j) => j)
  for (let i = 1; i <= a.length; i++) {
    const row = [i]
    for (let j = 1; j <= b.length; j++) {
      const change = previous[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1)
      row.push(Math.min(change, previous[j]! + 1, row[j - 1]! + 1))
    }
    previous = row
  }
  return previous[b.length]!
}
