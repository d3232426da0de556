/** The value at a dotted path, or nothing. */
export function findAt(root: unknown, path: string): unknown {
  let value = root
  for (const key of path.split('.')) {
    if (typeof value !== 'object' || value === null) return undefined
    value = (value as Record<string, unknown>)[key]
  }
  return value
}

/** A copy of `root` with the value at a dotted path replaced; the rest is shared. */
export function replaceAt<Root>(root: Root, path: string, value: unknown): Root {
  return replaceKeys(root, path.split('.'), value) as Root
}

function replaceKeys(node: unknown, keys: readonly string[], value: unknown): unknown {
  const [key, ...rest] = keys
  if (key === undefined) return value
  const container = typeof node === 'object' && node !== null ? node : {}
  const child = replaceKeys((container as Record<string, unknown>)[key], rest, value)
  if (Array.isArray(container)) return container.map((item, i) => (i === Number(key) ? child : (item as unknown)))
  const { [key]: _old, ...others } = container as Record<string, unknown>
  if (child === undefined) return others
  return Object.fromEntries(
    key in container
      ? Object.entries(container).map(([k, v]) => [k, k === key ? child : v])
      : [...Object.entries(others), [key, child]],
  )
}
