/**
 * Expressions as sums of products over named atoms, for reading. An atom is a letter or the sine or cosine of a sum of
 * angles with whole factors; everything is multiplied out, so that terms that cancel do.
 */
export interface Atom {
  readonly key: string
  readonly latex: string
  /** For a sine or cosine: of which sum of letters. */
  readonly turn?: { readonly of: 'sin' | 'cos'; readonly angle: ReadonlyMap<string, number> }
}

export interface Product {
  readonly factor: number
  /** Exponent by atom's key; never 0. */
  readonly powers: ReadonlyMap<string, number>
}

/** By the key of its powers; no product has factor 0. */
export type Sum = ReadonlyMap<string, Product>

/** Factors below this share of the largest are rounding. */
const negligible = 1e-13

export const zero: Sum = new Map()

export function constantSum(value: number): Sum {
  return value === 0 ? zero : new Map([['', { factor: value, powers: new Map() }]])
}

export function atomSum(key: string): Sum {
  return new Map([[keyOf(new Map([[key, 1]])), { factor: 1, powers: new Map([[key, 1]]) }]])
}

export function plusSum(a: Sum, b: Sum, factor = 1): Sum {
  const out = new Map(a)
  for (const [key, product] of b) {
    const before = out.get(key)?.factor ?? 0
    const next = before + factor * product.factor
    const size = Math.max(Math.abs(before), Math.abs(factor * product.factor))
    if (Math.abs(next) <= negligible * size) out.delete(key)
    else out.set(key, { factor: next, powers: product.powers })
  }
  return out
}

/** Multiplied out; nothing where that gives more products than wanted. */
export function timesSum(a: Sum, b: Sum, most: number): Sum | undefined {
  if (a.size * b.size > most * 8) return undefined
  let out: Sum = zero
  for (const x of a.values()) {
    const row = new Map<string, Product>()
    for (const y of b.values()) {
      const product = timesProduct(x, y)
      row.set(keyOf(product.powers), product)
    }
    out = plusSum(out, row)
  }
  return out.size > most ? undefined : out
}

export function timesProduct(x: Product, y: Product): Product {
  const powers = new Map(x.powers)
  for (const [atom, power] of y.powers) {
    const next = (powers.get(atom) ?? 0) + power
    if (next === 0) powers.delete(atom)
    else powers.set(atom, next)
  }
  return { factor: x.factor * y.factor, powers }
}

/** One over a single product; nothing for a longer sum. */
export function inverseSum(a: Sum): Sum | undefined {
  const [only] = a.values()
  if (a.size !== 1 || only === undefined) return undefined
  const powers = new Map([...only.powers].map(([atom, power]) => [atom, -power]))
  return new Map([[keyOf(powers), { factor: 1 / only.factor, powers }]])
}

export function keyOf(powers: ReadonlyMap<string, number>): string {
  return [...powers]
    .map(([atom, power]) => `${atom}^${power}`)
    .sort()
    .join(' ')
}

export function sumOf(products: readonly Product[]): Sum {
  return products.reduce<Sum>((sum, product) => plusSum(sum, new Map([[keyOf(product.powers), product]])), zero)
}
