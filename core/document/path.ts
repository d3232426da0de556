import type { Part } from './document'

/** The value at a dotted path, or nothing. */
export function findAt(root: unknown, path: string): unknown {
  let value = root
  for (const key of path.split('.')) {
    if (typeof value !== 'object' || value === null) return undefined
    value = (value as Record<string, unknown>)[key]
  }
  return value
}

/** The part at a dotted path, or nothing where there is none. */
export function partAt(root: unknown, path: string): Part | undefined {
  const found = findAt(root, path)
  return typeof found === 'object' && found !== null ? (found as Part) : undefined
}

/** A copy of `root` with the value at a dotted path replaced; the rest is shared. */
export function replaceAt<Root>(root: Root, path: string, value: unknown): Root {
  return replaceKeys(root, path.split('.'), value) as Root
}

/** The same for many paths at once, in one walk. Paths that end inside one another are not for it. */
export function replaceAll<Root>(root: Root, values: ReadonlyMap<string, unknown>): Root {
  if (values.size === 0) return root
  const tree: Branch = new Map()
  for (const [path, value] of values) {
    const keys = path.split('.')
    let branch = tree
    for (const key of keys.slice(0, -1)) {
      const next = branch.get(key) ?? { branch: new Map<string, Twig>() }
      branch.set(key, next)
      branch = (next as { branch: Branch }).branch
    }
    branch.set(keys.at(-1)!, { value })
  }
  return grafted(root, tree) as Root
}

type Twig = { readonly branch: Branch } | { readonly value: unknown }
type Branch = Map<string, Twig>

function grafted(node: unknown, branch: Branch): unknown {
  const changed = (key: string, item: unknown): unknown => {
    const twig = branch.get(key)
    if (twig === undefined) return item
    return 'value' in twig ? twig.value : grafted(item, twig.branch)
  }
  if (Array.isArray(node)) return node.map((item: unknown, i) => changed(String(i), item))
  return Object.fromEntries(Object.entries(node as object).map(([key, item]: [string, unknown]) => [key, changed(key, item)]))
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
