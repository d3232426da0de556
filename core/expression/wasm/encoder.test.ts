import { describe, expect, it } from 'vitest'
import { Bytes, encodeModule, signed, unsigned } from './encoder'

describe('whole numbers of variable length', () => {
  // the worked examples of the DWARF Debugging Information Format, version 4, appendix C (from memory)
  it.each([
    [2, [2]],
    [127, [0x7f]],
    [128, [0x80, 1]],
    [129, [0x81, 1]],
    [12857, [0xb9, 0x64]],
    [624485, [0xe5, 0x8e, 0x26]],
  ])('%i without sign', (value, bytes) => {
    expect(unsigned(value)).toEqual(bytes)
    const growing = new Bytes()
    growing.unsigned(value)
    expect([...growing.taken()]).toEqual(bytes)
  })

  it.each([
    [2, [2]],
    [-2, [0x7e]],
    [127, [0xff, 0]],
    [-127, [0x81, 0x7f]],
    [128, [0x80, 1]],
    [-128, [0x80, 0x7f]],
    [-129, [0xff, 0x7e]],
    [-123456, [0xc0, 0xbb, 0x78]],
  ])('%i with sign', (value, bytes) => expect(signed(value)).toEqual(bytes))
})

describe('bytes under way', () => {
  it('grow, join and keep their order', () => {
    const [all, part] = [new Bytes(), new Bytes()]
    for (let i = 0; i < 1000; i++) part.push(i & 0xff)
    part.double(1)
    all.push(9)
    all.append(part, 10, 12)
    all.appendSized(part)
    const taken = all.taken()
    expect([...taken.slice(0, 5)]).toEqual([9, 10, 11, 0xf0, 0x07])
    expect(taken.length).toBe(3 + 2 + 1008)
    expect([...taken.slice(-8)]).toEqual([0, 0, 0, 0, 0, 0, 0xf0, 0x3f]) // 1 in IEEE 754, little end first
  })
})

describe('a module', () => {
  it('is one that the platform takes, with its memory and data', () => {
    const code = new Bytes()
    code.push(0x44)
    code.double(2.5)
    const bytes = encodeModule({
      functions: [{ parameters: 0, gives: 'number', locals: [], code }],
      exports: [{ name: 'answer', index: 0 }],
      pages: 1,
      data: [{ address: 16, values: [1.5, -3] }],
    })
    expect(WebAssembly.validate(bytes)).toBe(true)
    const { exports } = new WebAssembly.Instance(new WebAssembly.Module(bytes))
    expect((exports.answer as () => number)()).toBe(2.5)
    expect([...new Float64Array((exports.memory as WebAssembly.Memory).buffer, 16, 2)]).toEqual([1.5, -3])
  })
})
