import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { replaceAt, sharing } from './index'

const before = { a: { b: [1, 2, { c: 3 }] }, d: { e: 'x' }, list: [{ n: 1 }, { n: 2 }] }

describe('a value that shares what is as before', () => {
  it('is the very same where nothing changed', () => {
    expect(sharing(structuredClone(before), before)).toBe(before)
  })

  it('keeps every part but those on the way to what changed', () => {
    const next = sharing(structuredClone(replaceAt(before, 'a.b.2.c', 4)), before)
    expect(next).toEqual({ ...before, a: { b: [1, 2, { c: 4 }] } })
    expect(next.d).toBe(before.d)
    expect(next.list).toBe(before.list)
    expect(next.a).not.toBe(before.a)
  })

  it('takes over nothing of a list that grew, nor the order of names', () => {
    const grown = sharing({ ...before, list: [{ n: 1 }, { n: 2 }, { n: 2 }] }, before)
    expect(grown.list).toHaveLength(3)
    expect(grown.list[0]).toBe(before.list[0])
    const turned = sharing({ d: { e: 'x' }, a: before.a, list: before.list }, before)
    expect(Object.keys(turned)).toEqual(['d', 'a', 'list'])
    expect(turned.d).toBe(before.d)
  })

  it('always equals what it was given, names of prototypes among them', () => {
    const json = fc.jsonValue()
    fc.assert(
      fc.property(json, json, (value, other) => {
        expect(sharing(structuredClone(value), other)).toEqual(value)
      }),
    )
    const odd = JSON.parse('{"__proto__": {"a": 1}, "constructor": 2}') as object
    expect(JSON.stringify(sharing(odd, {}))).toBe(JSON.stringify(odd))
  })
})
