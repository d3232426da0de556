import { useMemo } from 'react'
import { DataTable } from '../table'
import type { TableColumn } from '../table'
import type { Series } from './series'

interface Row {
  readonly at: number
}

/** px */
const rowHeight = 18

/** The same numbers as a table, row by row. */
export function TableView({
  title,
  series,
  xName,
  unit,
}: {
  readonly title: string
  readonly series: readonly Series[]
  readonly xName: string
  readonly unit: string
}) {
  const guide = useMemo(
    () => series.reduce<Series | undefined>((most, one) => (one.xs.length > (most?.xs.length ?? -1) ? one : most), undefined),
    [series],
  )
  const rows = useMemo(() => Array.from(guide?.xs ?? [], (_, at): Row => ({ at })), [guide])
  const columns = useMemo(
    (): TableColumn<Row>[] => [
      { name: xName, by: ({ at }) => guide?.xs[at], cell: ({ at }) => guide?.xs[at]?.toPrecision(4) },
      ...series.map(({ name, ys }): TableColumn<Row> => ({
        name: `${name} ${unit}`,
        by: ({ at }) => (Number.isNaN(ys[at]) ? undefined : ys[at]),
        cell: ({ at }) => wordsOf(ys[at]),
      })),
    ],
    [series, guide, xName, unit],
  )
  return (
    <DataTable
      caption={`${title} as a table`}
      className="number text-[11px] leading-[18px]"
      columns={columns}
      rows={rows}
      keyOf={({ at }) => String(at)}
      rowHeight={rowHeight}
    />
  )
}

/** A place without a value is a dash. */
function wordsOf(value: number | undefined): string {
  if (value === undefined) return ''
  return Number.isNaN(value) ? '–' : value.toPrecision(4)
}
