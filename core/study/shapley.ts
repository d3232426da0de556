import { assert } from '../document'

/** A coalition of players: bit i stands for player i. */
export type Coalition = number

/** What a coalition is worth. */
export type Worth = (coalition: Coalition) => number

/** Shares of a whole among players. They add up to the worth of all less the worth of none. */
export interface Shares {
  readonly shares: readonly number[]
  /** Half the width of the interval in which a sampled share lies with 95 %; nothing of exact ones. */
  readonly bounds?: readonly number[]
}

/**
 * Shapley values of all players: what each adds, over all orders in which they may come.
 * phi_i = sum over S without i of |S|! (n - |S| - 1)! / n! (v(S and i) - v(S)).
 * L. S. Shapley, A Value for n-Person Games, Contributions to the Theory of Games II, Princeton, 1953.
 */
export function shapleyShares(players: number, worth: Worth): Shares {
  const weights = weightsBySize(players, 1)
  return {
    shares: each(players, (i) => {
      const own = 1 << i
      return over(players, own, (s) => weights[sizeOf(s)]! * (worth(s | own) - worth(s)))
    }),
  }
}

/**
 * How much more, or less, two players add together than one after the other: the interaction index.
 * I_ij = sum over S without i, j of |S|! (n - |S| - 2)! / (n - 1)! (v(S, i, j) - v(S, i) - v(S, j) + v(S)).
 * M. Grabisch, M. Roubens, An axiomatic approach to the concept of interaction, Int. J. Game Theory 28 (1999).
 */
export function interactions(players: number, worth: Worth): readonly (readonly number[])[] {
  const weights = weightsBySize(players, 2)
  return each(players, (i) =>
    each(players, (j) => {
      if (i === j) return 0
      const [a, b] = [1 << i, 1 << j]
      return over(players, a | b, (s) => weights[sizeOf(s)]! * (worth(s | a | b) - worth(s | a) - worth(s | b) + worth(s)))
    }),
  )
}

/** An order in which players come. */
export type Order = readonly number[]

/**
 * Orders of players, each followed by the same from its end, whose errors cancel in part. The same for the same seed, on
 * every machine. Castro, Gomez & Tejada, Polynomial calculation of the Shapley value based on sampling, Comput. Oper. Res. 36
 * (2009); the pairs after Mitchell et al., Sampling Permutations for Shapley Value Estimation, JMLR 23 (2022), from memory.
 */
export function sampledOrders(players: number, pairs: number, seed: number): readonly Order[] {
  const next = counted(seed)
  return each(pairs, () => {
    const order = each(players, (i) => i)
    for (let i = players - 1; i > 0; i--) {
      const j = Math.floor(next() * (i + 1))
      ;[order[i], order[j]] = [order[j]!, order[i]!]
    }
    return [order, [...order].reverse()]
  }).flat()
}

/** The coalitions that orders pass through, each once. */
export function coalitionsOf(orders: readonly Order[]): readonly Coalition[] {
  const found = new Set<Coalition>([0])
  for (const order of orders) {
    let coalition = 0
    for (const player of order) found.add((coalition |= 1 << player))
  }
  return [...found]
}

/** Every coalition there is. */
export function allCoalitions(players: number): readonly Coalition[] {
  assert(players <= 20, 'Of more players not every coalition is asked.')
  return each(1 << players, (coalition) => coalition)
}

/**
 * Shares from orders in pairs that run from either end. The bound is 2 standard errors of the mean over the pairs, which
 * are independent of one another (about 95 % for many pairs). They add up to the whole whatever the orders.
 */
export function sampledShares(players: number, orders: readonly Order[], worth: Worth): Shares {
  const pairs = each(orders.length / 2, (k) => {
    const [one, other] = [orders[2 * k]!, orders[2 * k + 1]!].map((order) => addedAlong(players, order, worth))
    return one!.map((value, i) => (value + other![i]!) / 2)
  })
  const mean = (of: (added: readonly number[]) => number) => pairs.reduce((sum, added) => sum + of(added), 0) / pairs.length
  const shares = each(players, (i) => mean((added) => added[i]!))
  const bounds = shares.map((share, i) => {
    if (pairs.length < 2) return Infinity
    const spread = mean((added) => (added[i]! - share) ** 2) * (pairs.length / (pairs.length - 1))
    return 2 * Math.sqrt(spread / pairs.length)
  })
  return { shares, bounds }
}

/** What each player adds where they come in this order. */
function addedAlong(players: number, order: Order, worth: Worth): readonly number[] {
  const added = new Array<number>(players).fill(0)
  let [coalition, before] = [0, worth(0)]
  for (const player of order) {
    const now = worth((coalition |= 1 << player))
    added[player] = now - before
    before = now
  }
  return added
}

/** |S|! (n - |S| - k)! / (n - k + 1)! by the size of S. */
function weightsBySize(players: number, k: number): readonly number[] {
  const factorial = (n: number): number => (n <= 1 ? 1 : n * factorial(n - 1))
  return each(Math.max(0, players - k) + 1, (s) => (factorial(s) * factorial(players - s - k)) / factorial(players - k + 1))
}

/** The sum over all coalitions without some players. */
function over(players: number, without: Coalition, of: (coalition: Coalition) => number): number {
  let sum = 0
  for (let s = 0; s < 1 << players; s++) if ((s & without) === 0) sum += of(s)
  return sum
}

/** How many players are in it. */
export function sizeOf(coalition: Coalition): number {
  let count = 0
  for (let rest = coalition; rest !== 0; rest &= rest - 1) count++
  return count
}

function each<T>(count: number, of: (i: number) => T): T[] {
  return Array.from({ length: count }, (_, i) => of(i))
}

/** Numbers from 0 to 1 by Weyl's sequence through a mixing function (Steele, Lea & Flood, Fast Splittable Pseudorandom Number Generators, 2014, with 32 bits). */
function counted(seed: number): () => number {
  let state = seed | 0
  return () => {
    state = (state + 0x9e3779b9) | 0
    let mixed = Math.imul(state ^ (state >>> 16), 0x21f0aaad)
    mixed = Math.imul(mixed ^ (mixed >>> 15), 0x735a2d97)
    return ((mixed ^ (mixed >>> 15)) >>> 0) / 2 ** 32
  }
}
