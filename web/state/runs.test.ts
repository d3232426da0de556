import { describe, expect, it } from 'vitest'
import { shownFirst } from './runs'

describe('the run of a trial that is shown when its project is opened', () => {
  const made = (trial: string, hash: string, day: number) => ({ trial, hash, madeAt: `2026-11-0${day}` })
  const newestFirst = [made('rise', 'c', 4), made('turn', 'x', 3), made('rise', 'b', 2), made('rise', 'a', 1)]

  it('is that of the document as it is, though another was made later', () => {
    expect(shownFirst(newestFirst, { rise: 'b', turn: 'x' })).toEqual({
      rise: { hash: 'b', at: '2026-11-02' },
      turn: { hash: 'x', at: '2026-11-03' },
    })
  })

  it('is the newest where the document was not run as it is', () => {
    expect(shownFirst(newestFirst, { rise: 'z' }).rise!.hash).toBe('c')
    expect(shownFirst([], { rise: 'z' })).toEqual({})
  })
})
