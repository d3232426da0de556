import { expect } from 'vitest'

/** Characters of a value that a failure shows: a record would fill the screen. */
const longestShown = 600

interface Tolerance {
  readonly relative?: number
  readonly absolute?: number
}

declare module 'vitest' {
  interface Assertion {
    /** Numbers, lists or matrices near the expected; `relative` is to the largest expected entry. */
    toBeNear(expected: unknown, tolerance: Tolerance): void
  }
}

expect.extend({
  toBeNear(received: unknown, expected: unknown, { relative = 0, absolute = 0 }: Tolerance) {
    const actual = numbersOf(received)
    const wanted = numbersOf(expected)
    const scale = Math.max(...wanted.map(Math.abs), 0)
    const allowed = absolute + relative * scale
    const worst = Math.max(...wanted.map((value, i) => Math.abs(value - (actual[i] ?? NaN))), 0)
    const pass = actual.length === wanted.length && worst <= allowed
    const shown = `worst difference ${worst}, allowed ${allowed}`
    const brief = (value: unknown) => JSON.stringify(value)?.slice(0, longestShown)
    return { pass, message: () => `${shown}\nreceived ${brief(received)}\nexpected ${brief(expected)}` }
  },
})

function numbersOf(value: unknown): number[] {
  if (typeof value === 'number') return [value]
  if (Array.isArray(value)) return value.flatMap(numbersOf)
  if (ArrayBuffer.isView(value)) return [...(value as Float64Array)]
  if (isComplex(value)) return [value.re, value.im]
  return [NaN]
}

/** Reference files write complex numbers as { re, im }. */
function isComplex(value: unknown): value is { re: number; im: number } {
  return typeof value === 'object' && value !== null && 're' in value && 'im' in value
}
