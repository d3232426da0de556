import Papa from 'papaparse'
import type { Column, Record } from '../simulation'

const newline = '\r\n'

export type CsvAngles = 'radians' | 'degrees'

/** Of a unit with an angle above the stroke: how many of its SI size are one in degrees. */
const perDegree = 180 / Math.PI

/**
 * A record as CSV after RFC 4180: time first, one column a signal, header `name [unit]`. Numbers are the shortest text
 * that reads back to the same double, so that equal runs give equal files. In degrees where asked: the header says which.
 * A column of a family over a number is named `family@number`.
 */
export function recordToCsv({ time, columns }: Record, angles: CsvAngles = 'radians'): string {
  const turns = columns.map(({ unit }) => angles === 'degrees' && /^rad($|\/)/.test(unit))
  const unitOf = (unit: string, i: number) => (turns[i] === true ? unit.replace(/^rad/, '°') : unit || '1')
  const fields = ['time [s]', ...columns.map((column, i) => `${headed(column)} [${unitOf(column.unit, i)}]`)]
  const at = (k: number) => columns.map(({ values }, i) => (turns[i] === true ? values[k]! * perDegree : values[k]!))
  const data = Array.from(time, (t, k) => [t, ...at(k)].map(shortest))
  return `${Papa.unparse({ fields, data }, { newline })}${newline}`
}

function headed({ name, family }: Column): string {
  return typeof family?.at === 'number' ? `${family.name}@${shortest(family.at)}` : name
}

function shortest(value: number): string {
  return Object.is(value, -0) ? '-0' : String(value)
}
