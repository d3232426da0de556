/**
 * The same plain value, in which whatever is as in `before` is that very object: what is remembered of it stays known, and
 * nothing looks changed that is not. Both stay as they are.
 */
export function sharing<Value>(value: Value, before: unknown): Value {
  if (Object.is(value, before)) return value
  if (typeof value !== 'object' || value === null || typeof before !== 'object' || before === null) return value
  if (Array.isArray(value)) {
    if (!Array.isArray(before)) return value
    const items = value.map((item, i) => sharing<unknown>(item, before[i]))
    return (items.length === before.length && items.every((item, i) => Object.is(item, before[i])) ? before : items) as Value
  }
  if (!isPlain(value) || !isPlain(before)) return value
  const [keys, earlier] = [Object.keys(value), before as Readonly<Record<string, unknown>>]
  const entries = keys.map((key) => [key, sharing((value as Record<string, unknown>)[key], own(earlier, key))] as const)
  const isSame =
    keys.length === Object.keys(before).length &&
    // in the same order too: documents are read and written in theirs
    Object.keys(before).every((key, i) => key === keys[i]) &&
    entries.every(([key, item]) => Object.is(item, own(earlier, key)))
  return (isSame ? before : Object.fromEntries(entries)) as Value
}

function own(value: Readonly<Record<string, unknown>>, key: string): unknown {
  return Object.hasOwn(value, key) ? value[key] : undefined
}

function isPlain(value: object): boolean {
  return Object.getPrototypeOf(value) === Object.prototype
}
