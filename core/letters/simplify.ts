import { keyOf, plusSum, sumOf, zero } from './sum'
import type { Product, Sum } from './sum'
import type { Atoms } from './atoms'

/** More passes than any sum worth reading needs. */
const mostPasses = 40

/**
 * A sum made shorter by sin² = 1 - cos², by the sums of two angles, and where that leaves A - A cos², by A sin².
 * Handbook identities: Abramowitz & Stegun, Handbook of Mathematical Functions, 1964, 4.3.10, 4.3.16, 4.3.17 (from memory).
 */
export function simplified(sum: Sum, atoms: Atoms): Sum {
  let now = withoutSquares(sum, atoms)
  for (let pass = 0; pass < mostPasses; pass++) {
    const next = withoutSquares(mergedOnce(now, atoms) ?? now, atoms)
    if (next.size >= now.size) break
    now = next
  }
  const short = withSquares(now, atoms)
  return short.size <= sum.size ? short : sum
}

/** sin² of everything becomes 1 - cos². */
function withoutSquares(sum: Sum, atoms: Atoms): Sum {
  let out: Sum = zero
  for (const product of sum.values()) out = plusSum(out, expanded(product, atoms))
  return out
}

function expanded({ factor, powers }: Product, atoms: Atoms): Sum {
  const sine = [...powers].find(([key, power]) => power >= 2 && atoms.get(key).turn?.of === 'sin')
  if (sine === undefined) return sumOf([{ factor, powers }])
  const [key, power] = sine
  const rest = changed(powers, key, power - 2)
  const cosine = atoms.turned('cos', atoms.get(key).turn!.angle)
  const squared = changed(rest, cosine, (rest.get(cosine) ?? 0) + 2)
  return plusSum(expanded({ factor, powers: rest }, atoms), expanded({ factor: -factor, powers: squared }, atoms))
}

/** A and -A cos² together are A sin². */
function withSquares(sum: Sum, atoms: Atoms): Sum {
  for (const [key, product] of sum) {
    const cosine = [...product.powers].find(([atom, power]) => power === 2 && atoms.get(atom).turn?.of === 'cos')
    if (cosine === undefined) continue
    const rest = changed(product.powers, cosine[0], 0)
    const partner = sum.get(keyOf(rest))
    if (partner === undefined || !isNear(partner.factor, -product.factor)) continue
    const sine = atoms.turned('sin', atoms.get(cosine[0]).turn!.angle)
    const left = new Map(sum)
    left.delete(key)
    left.delete(keyOf(rest))
    return withSquares(plusSum(left, sumOf([{ factor: partner.factor, powers: changed(rest, sine, 2) }])), atoms)
  }
  return sum
}

/** The first pair of products that makes the sine or cosine of a sum of angles, merged. */
function mergedOnce(sum: Sum, atoms: Atoms): Sum | undefined {
  for (const [key, product] of sum) {
    const turns = [...product.powers.keys()].filter((atom) => atoms.get(atom).turn !== undefined)
    for (let i = 0; i < turns.length; i++)
      for (let j = 0; j < turns.length; j++) {
        if (i === j) continue
        const found = merge(sum, key, product, [turns[i]!, turns[j]!], atoms)
        if (found !== undefined) return found
      }
  }
  return undefined
}

function merge(
  sum: Sum,
  key: string,
  product: Product,
  [first, second]: readonly [string, string],
  atoms: Atoms,
): Sum | undefined {
  const [a, b] = [atoms.get(first).turn!, atoms.get(second).turn!]
  const rest = changed(changed(product.powers, first, product.powers.get(first)! - 1), second, product.powers.get(second)! - 1)
  const other = (of: 'sin' | 'cos') => (of === 'sin' ? 'cos' : 'sin')
  const swapped = [atoms.turned(other(a.of), a.angle), atoms.turned(other(b.of), b.angle)] as const
  const partnerPowers = swapped.reduce((powers, atom) => changed(powers, atom, (powers.get(atom) ?? 0) + 1), rest)
  const partner = sum.get(keyOf(partnerPowers))
  if (partner === undefined || keyOf(partnerPowers) === key) return undefined
  const sign = partner.factor / product.factor
  if (!isNear(Math.abs(sign), 1)) return undefined
  const result = turnOfPair(a.of, b.of, sign > 0)
  if (result === undefined) return undefined
  const angle = joined(a.angle, b.angle, result.second)
  const left = new Map(sum)
  left.delete(key)
  left.delete(keyOf(partnerPowers))
  if (angle.size === 0) {
    const value = result.of === 'cos' ? 1 : 0
    return value === 0 ? left : plusSum(left, sumOf([{ factor: product.factor * result.factor, powers: rest }]))
  }
  const { key: atom, sign: turned } = atoms.signedTurn(result.of, angle)
  const powers = changed(rest, atom, (rest.get(atom) ?? 0) + 1)
  return plusSum(left, sumOf([{ factor: product.factor * result.factor * turned, powers }]))
}

/** What x_a y_b ± (the swapped pair) is: the function, its factor, and the sign of the second angle. */
function turnOfPair(
  a: 'sin' | 'cos',
  b: 'sin' | 'cos',
  plus: boolean,
): { of: 'sin' | 'cos'; factor: 1 | -1; second: 1 | -1 } | undefined {
  if (a === 'cos' && b === 'cos') return { of: 'cos', factor: 1, second: plus ? -1 : 1 }
  if (a === 'sin' && b === 'sin') return plus ? { of: 'cos', factor: 1, second: -1 } : { of: 'cos', factor: -1, second: 1 }
  if (a === 'sin' && b === 'cos') return { of: 'sin', factor: 1, second: plus ? 1 : -1 }
  return undefined // the other order finds it
}

function joined(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>, sign: 1 | -1): Map<string, number> {
  const out = new Map(a)
  for (const [letter, times] of b) {
    const next = (out.get(letter) ?? 0) + sign * times
    if (next === 0) out.delete(letter)
    else out.set(letter, next)
  }
  return out
}

function changed(powers: ReadonlyMap<string, number>, atom: string, power: number): Map<string, number> {
  const out = new Map(powers)
  if (power === 0) out.delete(atom)
  else out.set(atom, power)
  return out
}

function isNear(a: number, b: number): boolean {
  return Math.abs(a - b) <= 1e-9 * Math.max(Math.abs(a), Math.abs(b))
}
