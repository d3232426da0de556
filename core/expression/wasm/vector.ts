/** Two doubles in one value. W3C WebAssembly Core Specification 2.0: vector instructions, behind the prefix 0xfd. */
export const v128 = 0x7b

export const vectorCodes = {
  load: 0x00,
  loadTwice: 0x0a,
  store: 0x0b,
  constant: 0x0c,
  splat: 0x14,
  extractInteger: 0x1d,
  extract: 0x21,
  replace: 0x22,
  anyTrue: 0x53,
  bitSelect: 0x52,
} as const

/** Operations on both doubles at once, with the bits of the plain ones. */
export const vectorOperations: Readonly<Record<string, readonly number[]>> = {
  absolute: [0xec, 0x01],
  negate: [0xed, 0x01],
  squareRoot: [0xef, 0x01],
  add: [0xf0, 0x01],
  subtract: [0xf1, 0x01],
  multiply: [0xf2, 0x01],
  divide: [0xf3, 0x01],
  minimum: [0xf4, 0x01],
  maximum: [0xf5, 0x01],
  floor: [0x75],
  nearest: [0x94, 0x01],
}
