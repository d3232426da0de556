import type { Record } from '../simulation'

/**
 * A record as CSV after RFC 4180: time first, one column a signal, header `name [unit]`. Numbers are the shortest text
 * that reads back to the same double, so that equal runs give equal files.
 */
export function recordToCsv({ time, columns }: Record): string {
  const header = ['time [s]', ...columns.map(({ name, unit }) => `${name} [${unit || '1'}]`)].join(',')
  const lines = Array.from(time, (t, k) => [t, ...columns.map(({ values }) => values[k]!)].map(shortest).join(','))
  return [header, ...lines, ''].join('\r\n')
}

function shortest(value: number): string {
  return Object.is(value, -0) ? '-0' : String(value)
}
