import { expect, it } from 'vitest'
import { met } from './index'

const large = (name: string) => ({ name, text: 'x'.repeat(1_000_000) })

it('knows a part again, and lets go of the longest unused once they are too many', () => {
  const first = met('a', large('first'))
  const second = met('a', large('second'))
  expect(met('elsewhere', large('first'))).toBe(first)
  // four million characters hold three of these beside their names: the second is the longest unused
  for (const name of ['third', 'fourth']) met('a', large(name))
  expect(met('b', large('first'))).toBe(first)
  expect(met('b', large('second'))).not.toBe(second)
})

it('shares with what was met last at its place, and takes nothing for what it is not', () => {
  const before = met('place', { law: { kp: 1 }, rate: 100 })
  const after = met('place', { law: { kp: 1 }, rate: 200 })
  expect(after).toEqual({ law: { kp: 1 }, rate: 200 })
  expect(after.law).toBe(before.law)
  const odd = met('place', { law: { kp: NaN }, rate: 200 })
  expect(odd.law.kp).toBeNaN()
  expect(met('place', { law: { kp: null }, rate: 200 }).law.kp).toBeNull()
})
