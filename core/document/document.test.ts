import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { canonicalText, contentHash, findAt, migrate, nearestName, replaceAt } from './index'
import type { Migration } from './index'

describe('canonical text', () => {
  it('is the same for equal content, whatever the order of keys', () => {
    expect(canonicalText({ b: [1, { d: 2, c: null }], a: 'x' })).toBe('{"a":"x","b":[1,{"c":null,"d":2}]}')
  })

  it('leaves out what is undefined and keeps the order of lists', () => {
    expect(canonicalText({ a: undefined, b: [2, 1] })).toBe('{"b":[2,1]}')
  })

  it('is JSON that reads back to the same', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        expect(JSON.parse(canonicalText(value))).toEqual(JSON.parse(JSON.stringify(value)))
      }),
    )
  })
})

describe('the content hash', () => {
  it('has 32 hexadecimal digits and follows the content', () => {
    expect(contentHash({ a: 1 })).toMatch(/^[0-9a-f]{32}$/)
    expect(contentHash({ a: 1, b: 2 })).toBe(contentHash({ b: 2, a: 1 }))
    expect(contentHash({ a: 1 })).not.toBe(contentHash({ a: 1.0000000000000002 }))
  })

  it('tells many neighbours apart', () => {
    const hashes = new Set(Array.from({ length: 5000 }, (_, i) => contentHash({ value: i, text: `part ${i % 7}` })))
    expect(hashes.size).toBe(5000)
  })
})

describe('paths', () => {
  const root = { a: { b: [10, { c: 'deep' }], d: 1 }, e: 2 }

  it('lead to values, through lists too, or nowhere', () => {
    expect(findAt(root, 'a.b.1.c')).toBe('deep')
    expect(findAt(root, 'a.x.y')).toBeUndefined()
    expect(findAt(root, 'e.f')).toBeUndefined()
  })

  it('replace one value and share the rest', () => {
    const next = replaceAt(root, 'a.b.1.c', 'new')
    expect(findAt(next, 'a.b.1.c')).toBe('new')
    expect(next.a.b[0]).toBe(10)
    expect(findAt(root, 'a.b.1.c')).toBe('deep')
    expect(Array.isArray(next.a.b)).toBe(true)
  })

  it('keep the order of keys, add what is new at the end and take away what becomes undefined', () => {
    expect(Object.keys(replaceAt(root, 'a', 5))).toEqual(['a', 'e'])
    expect(Object.keys(replaceAt(root, 'z', 5))).toEqual(['a', 'e', 'z'])
    expect(replaceAt(root, 'a.d', undefined)).toEqual({ a: { b: [10, { c: 'deep' }] }, e: 2 })
  })

  it('make what is missing on the way', () => {
    expect(replaceAt<object>({}, 'x.y.z', 1)).toEqual({ x: { y: { z: 1 } } })
  })

  it('undo themselves', () => {
    const path = fc.constantFrom('a.d', 'a.b.0', 'a.b.1.c', 'e')
    fc.assert(
      fc.property(path, fc.jsonValue(), (where, value) => {
        expect(replaceAt(replaceAt<unknown>(root, where, value ?? 0), where, findAt(root, where))).toEqual(root)
      }),
    )
  })
})

describe('the nearest name', () => {
  it.each([
    ['outrLeaf', ['outerLeaf', 'innerLeaf'], 'outerLeaf'],
    ['massMatrx', ['massMatrix', 'bias'], 'massMatrix'],
    ['HULL', ['hull', 'arms'], 'hull'],
    ['xyzzy', ['hull', 'arms'], undefined],
    ['a', [], undefined],
  ])('of %s is %s', (given, known, nearest) => expect(nearestName(given, known)).toBe(nearest))
})

describe('migrations', () => {
  const steps: readonly Migration[] = [
    { from: 1, name: 'rename size', apply: ({ size, ...rest }) => ({ ...rest, length: size }) },
    { from: 2, name: 'double length', apply: (document) => ({ ...document, length: 2 * (document.length as number) }) },
  ]

  it('go one after the other and keep unknown fields', () => {
    expect(migrate({ version: 1, size: 3, extra: 'kept' }, steps, 3)).toEqual({
      kind: 'done',
      value: { version: 3, length: 6, extra: 'kept' },
    })
    expect(migrate({ version: 2, length: 3 }, steps, 3)).toEqual({ kind: 'done', value: { version: 3, length: 6 } })
  })

  it('leave a present document as it is', () => {
    const document = { version: 3, length: 1 }
    expect(migrate(document, steps, 3)).toEqual({ kind: 'done', value: document })
  })

  it.each([
    [{ version: 4 }, /knows versions up to 3/],
    [{ version: '1' }, /whole number/],
    [{}, /whole number/],
    [{ version: 1.5 }, /whole number/],
  ])('refuse %j', (document, words) => {
    const outcome = migrate(document, steps, 3)
    expect(outcome.kind).toBe('refused')
    if (outcome.kind === 'refused') expect(outcome.problems[0]!.what).toMatch(words)
  })

  it('say so where a step is missing', () => {
    expect(migrate({ version: 1 }, [steps[1]!], 3).kind).toBe('refused')
  })
})
