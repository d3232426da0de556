// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { partAt } from '@calm-hand/core/document'
import { demo } from '../../../../core/tests/demo'
import { besideWords } from './lines'
import { statesOf } from './states'
import { windowOf } from './useTimeAxis'
import { unwatch, watchBeside, watchInstead, watchSignal } from './watchEdits'

describe('a watch sentence', () => {
  const first = watchSignal(demo('lamplighter'), 'galleryRise', 'a').apply(demo('lamplighter'))
  const path = 'trials.galleryRise.watch.signal'
  const say = (document: typeof first) => {
    const watch = partAt(document, path)
    return (
      watch && [
        watch.signal,
        ...Object.values((watch.beside ?? {}) as Record<string, { signal: string }>).map(({ signal }) => signal),
      ]
    )
  }
  const three = ['b', 'c'].reduce((next, signal) => watchBeside(path, partAt(next, path)!, signal).apply(next), first)

  it('takes more signals in their order, and others in their places', () => {
    expect(say(three)).toEqual(['a', 'b', 'c'])
    expect(say(watchInstead(path, partAt(three, path)!, 0, 'x').apply(three))).toEqual(['x', 'b', 'c'])
    expect(say(watchInstead(path, partAt(three, path)!, 2, 'x').apply(three))).toEqual(['a', 'b', 'x'])
  })

  it('lets each of them go, the first one too, and ends with the last', () => {
    const without = (place: number) => unwatch(path, partAt(three, path)!, place).apply(three)
    expect([0, 1, 2].map((place) => say(without(place)))).toEqual([
      ['b', 'c'],
      ['a', 'c'],
      ['a', 'b'],
    ])
    expect(say(unwatch(path, partAt(first, path)!, 0).apply(first))).toBeUndefined()
  })

  it('says what belongs to its first signal as its own', () => {
    expect(besideWords({ label: 'height reference' }, { label: 'height' })).toBe('its reference')
    expect(besideWords({ label: 'heights' }, { label: 'height' })).toBe('heights')
  })

  it('is of all of the run where its window is no part of it', () => {
    expect(windowOf({ from: 2, to: 4 }, 10)).toEqual([2, 4])
    expect(windowOf({ from: 2 }, 10)).toEqual([2, 10])
    expect(windowOf({ from: 12 }, 10)).toEqual([0, 10])
    expect(windowOf({ from: 2, to: 99 }, 10)).toEqual([2, 10])
  })
})

describe('a state lane', () => {
  it('is of few whole values, each with its spell', () => {
    expect(statesOf([0, 1, 2, 3, 4], Float64Array.of(0, 0, 2, 2, 0))).toEqual([
      { value: 0, from: 0, to: 2 },
      { value: 2, from: 2, to: 4 },
      { value: 0, from: 4, to: 4 },
    ])
    expect(statesOf([0, 1], Float64Array.of(0, 0.5))).toBeUndefined()
    expect(
      statesOf(
        Array.from({ length: 20 }, (_, i) => i),
        Float64Array.from({ length: 20 }, (_, i) => i),
      ),
    ).toBeUndefined()
  })
})
