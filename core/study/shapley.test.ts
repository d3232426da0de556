import { describe, expect, it } from 'vitest'
import { reference } from '../tests/reference'
import { allCoalitions, coalitionsOf, interactions, sampledOrders, sampledShares, shapleyShares } from './shapley'
import type { Coalition } from './shapley'

interface Game {
  readonly name: string
  readonly players: number
  readonly values: { readonly [members: string]: number }
}
interface Answer {
  readonly shares: readonly number[]
  readonly sum: number
  readonly interaction_index: { readonly [pair: string]: number }
}

// L. S. Shapley (1953); Littlechild & Owen (1973), airport game; Grabisch & Roubens (1999): exact rationals
const { inputs, expected } = reference<{ games: readonly Game[] }, { games: readonly Answer[] }>('stat-shapley')
const games = inputs.games.map((game, i) => ({ ...game, answer: expected.games[i]! }))

function members(coalition: Coalition): string {
  const found = [1, 2, 3, 4, 5].filter((player) => (coalition & (1 << (player - 1))) !== 0).join('')
  return found === '' ? 'empty' : found
}

describe.each(games)('$name', ({ players, values, answer }) => {
  const worth = (coalition: Coalition) => values[members(coalition)]!

  it('is shared as published', () => {
    const { shares } = shapleyShares(players, worth)
    expect(shares).toBeNear(answer.shares, { absolute: 1e-12 }) // exact rationals
    expect(shares.reduce((sum, one) => sum + one, 0)).toBeCloseTo(answer.sum, 12)
  })

  it('has the published interactions', () => {
    const found = interactions(players, worth)
    for (const [pair, value] of Object.entries(answer.interaction_index)) {
      const [i, j] = [...pair].map((player) => Number(player) - 1) as [number, number]
      expect(found[i]![j]).toBeCloseTo(value, 12)
      expect(found[j]![i]).toBeCloseTo(value, 12)
    }
  })

  it('is shared by samples that add up to the whole, near the exact shares', () => {
    const orders = sampledOrders(players, 400, 7)
    const { shares, bounds } = sampledShares(players, orders, worth)
    expect(shares.reduce((sum, one) => sum + one, 0)).toBeCloseTo(answer.sum, 12)
    // the bound is 2 standard errors: twice as much is almost never passed, and this seed is one
    shares.forEach((share, i) => expect(Math.abs(share - answer.shares[i]!)).toBeLessThanOrEqual(2 * bounds![i]! + 1e-12))
  })
})

describe('sampled orders', () => {
  it('pass through no more coalitions than there are, each once', () => {
    const found = coalitionsOf(sampledOrders(4, 200, 3))
    expect(new Set(found).size).toBe(found.length)
    expect([...found].sort((a, b) => a - b)).toEqual(allCoalitions(4))
  })

  it('are the same for the same seed, and others for another', () => {
    expect(sampledOrders(9, 3, 1)).toEqual(sampledOrders(9, 3, 1))
    expect(sampledOrders(9, 3, 1)).not.toEqual(sampledOrders(9, 3, 2))
    for (const order of sampledOrders(9, 3, 1)) expect([...order].sort((a, b) => a - b)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8])
  })

  it('give exact shares of a game that adds, with bounds of 0', () => {
    const amounts = [3, 1, 4, 1, 5, 9, 2, 6]
    const worth = (coalition: Coalition) => amounts.reduce((sum, one, i) => sum + ((coalition >> i) & 1) * one, 0)
    const { shares, bounds } = sampledShares(8, sampledOrders(8, 4, 5), worth)
    expect(shares).toBeNear(amounts, { relative: 1e-14 })
    expect(Math.max(...bounds!)).toBeLessThan(1e-13)
  })

  it('say by their bounds how uncertain they are', () => {
    // one order in two directions tells nothing of its own spread
    expect(sampledShares(3, sampledOrders(3, 1, 1), (s) => s).bounds).toEqual([Infinity, Infinity, Infinity])
  })
})
