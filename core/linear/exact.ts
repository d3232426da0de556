/** A number as whole x 2^-shift: doubles are such numbers, and sums and products of them stay so. */
export interface Exact {
  readonly whole: bigint
  readonly shift: number
}

const view = new DataView(new ArrayBuffer(8))

/** A finite double without any rounding (IEEE 754, binary64). */
export function exactOf(value: number): Exact {
  view.setFloat64(0, value)
  const bits = view.getBigUint64(0)
  const exponent = Number((bits >> 52n) & 0x7ffn)
  const fraction = bits & 0xfffffffffffffn
  const size = exponent === 0 ? fraction : fraction | 0x10000000000000n
  const whole = bits >> 63n === 1n ? -size : size
  return whole === 0n ? { whole, shift: 0 } : { whole, shift: 1075 - Math.max(exponent, 1) }
}

/** Whole numbers of one shift for all of a matrix. */
export function exactMatrix(matrix: readonly (readonly number[])[]): { whole: bigint[][]; shift: number } {
  const entries = matrix.map((row) => row.map(exactOf))
  const shift = Math.max(0, ...entries.flat().map((entry) => entry.shift))
  return { whole: entries.map((row) => row.map((entry) => entry.whole << BigInt(shift - entry.shift))), shift }
}

/** Of one shift. */
export function exactSum(a: Exact, b: Exact): Exact {
  const shift = Math.max(a.shift, b.shift)
  return { whole: (a.whole << BigInt(shift - a.shift)) + (b.whole << BigInt(shift - b.shift)), shift }
}

/** Bits that are kept when a whole number becomes a double: more than its 53, so that it is rounded once. */
const kept = 64

/** The nearest double, or nearly: within a unit of its last place. */
export function toNumber({ whole, shift }: Exact): number {
  const size = whole < 0n ? -whole : whole
  const extra = Math.max(0, size.toString(2).length - kept)
  return Number(whole >> BigInt(extra)) * 2 ** (extra - shift)
}
