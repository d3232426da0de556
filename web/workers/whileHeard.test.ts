import { describe, expect, it } from 'vitest'
import { whileHeard } from './whileHeard'

describe('what is told to a slow listener', () => {
  const listener = () => {
    const heard: number[] = []
    const done: (() => void)[] = []
    const say = whileHeard<number>(2, (told) => {
      heard.push(told)
      return new Promise((resolve) => done.push(resolve))
    })
    return { heard, say, hear: async () => (done.shift()!(), await Promise.resolve()) }
  }

  it('is left out while two are unheard, and the newest comes once one was heard', async () => {
    const { heard, say, hear } = listener()
    for (let i = 1; i <= 9; i++) expect(say(() => i, false)).toBe(i <= 2)
    await hear()
    expect(say(() => 10, false)).toBe(true)
    expect(say(() => 11, false)).toBe(false)
    expect(heard).toEqual([1, 2, 10])
  })

  it('is not even made where it is not told', () => {
    const { say } = listener()
    let made = 0
    for (let i = 0; i < 5; i++) say(() => ++made, false)
    expect(made).toBe(2)
  })

  it('is told all the same where it must be, which counts', async () => {
    const { heard, say, hear } = listener()
    for (let i = 1; i <= 3; i++) say(() => i, true)
    expect(heard).toEqual([1, 2, 3])
    await hear()
    expect(say(() => 4, false)).toBe(false)
    await hear()
    expect(say(() => 5, false)).toBe(true)
  })
})
