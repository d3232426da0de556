/** A set with something in it that was not, or without it. */
export function toggled<One>(set: ReadonlySet<One>, one: One): ReadonlySet<One> {
  const next = new Set(set)
  if (!next.delete(one)) next.add(one)
  return next
}
