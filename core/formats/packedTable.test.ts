import { describe, expect, it } from 'vitest'
import { expectDone } from '../tests/expectDone'
import { parseDelimited } from './delimited'
import { packTable, thinnedTable, unpackTable } from './packedTable'

const table = expectDone(parseDelimited('rise.csv', new TextEncoder().encode('t,mode,h\n0,arm,1\n0.1,,2\n0.2,climb,\n')))
const told = ({ columns }: Pick<typeof table, 'columns'>) =>
  columns.map(({ name, values, texts }) => [
    name,
    [...values],
    texts === undefined ? [] : [...texts.places].map((k) => texts.words[k]),
  ])

describe('a measured record as it is kept', () => {
  it('comes back as it was, also from within other bytes', () => {
    const packed = packTable(table)
    const shifted = new Uint8Array(packed.length + 3)
    shifted.set(packed, 3)
    for (const bytes of [packed, shifted.subarray(3)]) {
      const back = expectDone(unpackTable(bytes))
      expect([back.file, back.rows, back.every]).toEqual(['rise.csv', 3, 1])
      expect(told(back)).toEqual(told(table))
    }
  })

  it('keeps every second row until it fits', () => {
    const thin = thinnedTable(table, 60)
    expect([thin.rows, thin.every, ...thin.columns[0]!.values]).toEqual([2, 2, 0, 0.2])
    expect([...thin.columns[1]!.texts!.places]).toEqual([0, 1])
  })

  it.each([
    ['nothing', new Uint8Array(0), 'empty'],
    ['another file', new TextEncoder().encode('t,h\n0,1\n'), 'no measured record'],
    ['one cut short', packTable(table).slice(0, -4), 'cut short'],
  ])('refuses %s', (_, bytes, what) => {
    const made = unpackTable(bytes)
    expect(made.kind === 'refused' && made.problems[0]!.what).toContain(what)
  })
})
