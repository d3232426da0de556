import type { Series } from './series'

const mostRows = 200

/** The same numbers as a table, thinned to what can be read. */
export function TableView({
  series,
  xName,
  unit,
}: {
  readonly series: readonly Series[]
  readonly xName: string
  readonly unit: string
}) {
  const longest = series.reduce((most, one) => Math.max(most, one.xs.length), 0)
  const step = Math.max(1, Math.ceil(longest / mostRows))
  const rows = Array.from({ length: Math.ceil(longest / step) }, (_, k) => k * step)
  const guide = series.find(({ xs }) => xs.length === longest)
  return (
    <div className="grow min-h-0 overflow-auto" tabIndex={0}>
      <table className="number text-[11px] w-full">
        <thead>
          <tr>
            {[xName, ...series.map(({ name }) => `${name} ${unit}`)].map((name) => (
              <th key={name} className="text-right px-2 font-medium sticky top-0 bg-chalk">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((k) => (
            <tr key={k}>
              <td className="text-right px-2">{guide?.xs[k]?.toPrecision(4)}</td>
              {series.map(({ name, ys }) => (
                <td key={name} className="text-right px-2">
                  {wordsOf(ys[k])}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** A place without a value is a dash. */
function wordsOf(value: number | undefined): string {
  if (value === undefined) return ''
  return Number.isNaN(value) ? '–' : value.toPrecision(4)
}
