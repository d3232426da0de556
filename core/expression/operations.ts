/**
 * The primitive operations of an expression: what each gives for plain numbers, its WebAssembly
 * instructions (operands already on the stack) and its C text. Everything else (sine, logarithm, ...)
 * is built from these, so that all printers and the folding of constants agree to the last bit.
 */
export interface Primitive {
  readonly fold: (...operands: number[]) => number
  readonly wasm: readonly number[]
  readonly c: (...operands: string[]) => string
}

const view = new DataView(new ArrayBuffer(8))

function bitsOf(x: number): bigint {
  view.setFloat64(0, x)
  return view.getBigUint64(0)
}

function fromBits(bits: bigint): number {
  view.setBigUint64(0, bits)
  return view.getFloat64(0)
}

const call =
  (name: string) =>
  (...operands: string[]) =>
    `${name}(${operands.join(', ')})`
const infix =
  (sign: string) =>
  (a = '', b = '') =>
    `(${a} ${sign} ${b})`

/** The instruction that puts a 64-bit integer on the stack. */
export const i64Constant = (value: bigint): number[] => {
  const bytes = [0x42]
  for (let rest = BigInt.asIntN(64, value); ; rest >>= 7n) {
    const low = Number(rest & 0x7fn)
    const last = rest >> 7n === 0n ? (low & 0x40) === 0 : rest >> 7n === -1n && (low & 0x40) !== 0
    bytes.push(last ? low : low | 0x80)
    if (last) return bytes
  }
}
const f64Constant = (value: number): number[] => [0x44, ...new Uint8Array(new Float64Array([value]).buffer)]
const reinterpretAsInteger = 0xbd
const reinterpretAsDouble = 0xbf

/** Numbers in, number out. Operand order is the order on the stack. */
export const primitives = {
  add: { fold: (a, b) => a! + b!, wasm: [0xa0], c: infix('+') },
  subtract: { fold: (a, b) => a! - b!, wasm: [0xa1], c: infix('-') },
  multiply: { fold: (a, b) => a! * b!, wasm: [0xa2], c: infix('*') },
  divide: { fold: (a, b) => a! / b!, wasm: [0xa3], c: infix('/') },
  minimum: { fold: (a, b) => Math.min(a!, b!), wasm: [0xa4], c: call('ch_minimum') },
  maximum: { fold: (a, b) => Math.max(a!, b!), wasm: [0xa5], c: call('ch_maximum') },
  copySign: { fold: (a, b) => (isSigned(a!) === isSigned(b!) ? a! : -a!), wasm: [0xa6], c: call('copysign') },
  negate: { fold: (a) => -a!, wasm: [0x9a], c: (a) => `(-${a})` },
  absolute: { fold: (a) => Math.abs(a!), wasm: [0x99], c: call('fabs') },
  squareRoot: { fold: (a) => Math.sqrt(a!), wasm: [0x9f], c: call('sqrt') }, // correctly rounded by IEEE 754 everywhere
  floor: { fold: (a) => Math.floor(a!), wasm: [0x9c], c: call('floor') },
  /** Nearest integer, ties to even. */
  nearest: { fold: (a) => nearestEven(a!), wasm: [0x9e], c: call('nearbyint') },
  /** Binary exponent of a normal number: exponent(1) = 0. */
  exponent: {
    fold: (a) => Number((bitsOf(a!) >> 52n) & 0x7ffn) - 1023,
    wasm: [reinterpretAsInteger, ...i64Constant(52n), 0x88, ...i64Constant(0x7ffn), 0x83, 0xb9, ...f64Constant(1023), 0xa1],
    c: call('ch_exponent'),
  },
  /** Significand of a normal number, in [1, 2), without its sign. */
  significand: {
    fold: (a) => fromBits((bitsOf(a!) & 0x000fffffffffffffn) | 0x3ff0000000000000n),
    wasm: [
      ...[reinterpretAsInteger, ...i64Constant(0x000fffffffffffffn), 0x83],
      ...[...i64Constant(0x3ff0000000000000n), 0x84, reinterpretAsDouble],
    ],
    c: call('ch_significand'),
  },
  /** 2^n for an integer n from -1022 to 1023. */
  powerOfTwo: {
    fold: (a) => fromBits(BigInt.asUintN(64, (integerOf(a!) + 1023n) << 52n)),
    wasm: [0xfc, 0x06, ...i64Constant(1023n), 0x7c, ...i64Constant(52n), 0x86, reinterpretAsDouble],
    c: call('ch_power_of_two'),
  },
  /** The number with the low 32 bits of its significand cleared. */
  highPart: {
    fold: (a) => fromBits(bitsOf(a!) & 0xffffffff00000000n),
    wasm: [reinterpretAsInteger, ...i64Constant(-0x100000000n), 0x83, reinterpretAsDouble],
    c: call('ch_high_part'),
  },
} satisfies Record<string, Primitive>

/** Numbers in, truth out. A comparison with NaN is false. */
export const comparisons = {
  less: { fold: (a: number, b: number) => a < b, wasm: [0x63], c: infix('<') },
  atMost: { fold: (a: number, b: number) => a <= b, wasm: [0x65], c: infix('<=') },
  equal: { fold: (a: number, b: number) => a === b, wasm: [0x61], c: infix('==') },
}

/** Truth in, truth out. */
export const connectives = {
  and: { wasm: [0x71], c: infix('&') },
  or: { wasm: [0x72], c: infix('|') },
  not: { wasm: [0x45], c: (a = '') => `(!${a})` },
}

/**
 * A uniform number in (0, 1) for a place in a counted stream: same seed, stream and counter, same number.
 * Each of the three goes through the 64-bit finalizer of Steele, Lea and Flood, Fast Splittable
 * Pseudorandom Number Generators, OOPSLA 2014 (constants by Stafford, quoted from memory).
 */
export function uniformNumber(seed: number, stream: number, counter: number): number {
  let mixed = 0n
  for (const part of [seed, stream, counter]) {
    mixed = finalize(BigInt.asUintN(64, mixed + integerOf(part) * uniformConstants.golden))
  }
  return (Number(mixed >> 12n) + 0.5) * 2 ** -52
}

/** Towards zero, saturating at 64 bits, NaN to 0: as WebAssembly's trunc_sat. */
function integerOf(x: number): bigint {
  if (Number.isNaN(x)) return 0n
  return x >= 2 ** 63 ? 2n ** 63n - 1n : BigInt(Math.trunc(Math.max(x, -(2 ** 63))))
}

export const uniformConstants = {
  golden: 0x9e3779b97f4a7c15n,
  first: 0xbf58476d1ce4e5b9n,
  second: 0x94d049bb133111ebn,
}

/** `uniformNumber` as WebAssembly: (seed, stream, counter: f64, one i64 local) -> f64. */
export function uniformInstructions(): number[] {
  const xorShift = (bits: bigint) => [0x20, 3, 0x20, 3, ...i64Constant(bits), 0x88, 0x85]
  const finalizer = [
    ...[...xorShift(30n), ...i64Constant(uniformConstants.first), 0x7e, 0x21, 3],
    ...[...xorShift(27n), ...i64Constant(uniformConstants.second), 0x7e, 0x21, 3],
    ...[...xorShift(31n), 0x21, 3],
  ]
  const absorb = (operand: number) => [
    ...[0x20, 3, 0x20, operand, 0xfc, 0x06, ...i64Constant(uniformConstants.golden), 0x7e, 0x7c, 0x21, 3],
    ...finalizer,
  ]
  const toUnit = [0x20, 3, ...i64Constant(12n), 0x88, 0xba, ...f64Constant(0.5), 0xa0, ...f64Constant(2 ** -52), 0xa2]
  return [...absorb(0), ...absorb(1), ...absorb(2), ...toUnit]
}

/** Helpers that the C text of the primitives calls. */
export const cPrelude = `#include <math.h>
#include <stdint.h>
#include <string.h>

static uint64_t ch_bits(double x) { uint64_t b; memcpy(&b, &x, 8); return b; }
static double ch_from_bits(uint64_t b) { double x; memcpy(&x, &b, 8); return x; }
static double ch_minimum(double a, double b) { return a != a ? a : b != b ? b : a == b ? (signbit(a) ? a : b) : a < b ? a : b; }
static double ch_maximum(double a, double b) { return a != a ? a : b != b ? b : a == b ? (signbit(a) ? b : a) : a > b ? a : b; }
static double ch_exponent(double x) { return (double)((ch_bits(x) >> 52) & 0x7ff) - 1023.0; }
static double ch_significand(double x) { return ch_from_bits((ch_bits(x) & 0x000fffffffffffffull) | 0x3ff0000000000000ull); }
static double ch_high_part(double x) { return ch_from_bits(ch_bits(x) & 0xffffffff00000000ull); }
static uint64_t ch_finalize(uint64_t z) {
  z = (z ^ (z >> 30)) * 0x${uniformConstants.first.toString(16)}ull;
  z = (z ^ (z >> 27)) * 0x${uniformConstants.second.toString(16)}ull;
  return z ^ (z >> 31);
}
static uint64_t ch_integer(double x) {
  return (uint64_t)(x != x ? 0 : x >= 0x1p63 ? INT64_MAX : x < -0x1p63 ? INT64_MIN : (int64_t)x);
}
static double ch_power_of_two(double n) { return ch_from_bits((ch_integer(n) + 1023) << 52); }
static double ch_uniform(double seed, double stream, double counter) {
  uint64_t z = 0;
  z = ch_finalize(z + ch_integer(seed) * 0x${uniformConstants.golden.toString(16)}ull);
  z = ch_finalize(z + ch_integer(stream) * 0x${uniformConstants.golden.toString(16)}ull);
  z = ch_finalize(z + ch_integer(counter) * 0x${uniformConstants.golden.toString(16)}ull);
  return ((double)(int64_t)(z >> 12) + 0.5) * 0x1p-52;
}
`

export type PrimitiveName = keyof typeof primitives
export type ComparisonName = keyof typeof comparisons
export type ConnectiveName = keyof typeof connectives

function isSigned(x: number): boolean {
  return Object.is(x, -0) || x < 0
}

function nearestEven(x: number): number {
  const below = Math.floor(x)
  const rest = x - below
  if (Number.isNaN(rest)) return x // an infinity is its own nearest
  const rounded = rest < 0.5 || (rest === 0.5 && below % 2 === 0) ? below : below + 1
  return rounded === 0 && isSigned(x) ? -0 : rounded
}

function finalize(value: bigint): bigint {
  let z = value
  z = BigInt.asUintN(64, (z ^ (z >> 30n)) * uniformConstants.first)
  z = BigInt.asUintN(64, (z ^ (z >> 27n)) * uniformConstants.second)
  return z ^ (z >> 31n)
}
