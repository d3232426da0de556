import { describe, expect, it } from 'vitest'
import { demo, lamplighter } from '../../../../core/tests/demo'
import { laneLayout, ribbonSize } from './laneLayout'

describe('rate lanes', () => {
  it.each([
    ['lamplighter', lamplighter()],
    ['derrick', demo('derrick')],
  ])('of %s put nothing over another, and share a row only along a chain', (_, document) => {
    const { ribbons, lanes } = laneLayout(document, Object.keys(document.machines)[0]!)
    for (const one of ribbons)
      for (const other of ribbons) {
        if (other === one || other.y !== one.y) continue
        const [left, right] = one.x < other.x ? [one, other] : [other, one]
        expect(right.x - left.x).toBeGreaterThan(ribbonSize.width)
        const chain = ribbons.filter(({ y }) => y === one.y).sort((a, b) => a.x - b.x)
        chain.slice(1).forEach(({ name }, i) => expect(chain[i]!.commands).toBe(name))
      }
    // what commands stands before what it commands, and the slower lane above
    for (const { commands, x, y } of ribbons) {
      const inner = ribbons.find(({ name }) => name === commands)
      if (inner === undefined) continue
      expect(inner.x).toBeGreaterThan(x)
      expect(inner.y).toBeGreaterThanOrEqual(y)
    }
    expect(lanes.map(({ rate }) => rate)).toEqual([...lanes.map(({ rate }) => rate)].sort((a, b) => a - b))
  })
})
