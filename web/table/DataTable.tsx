import { createColumnHelper, createSortedRowModel, rowSortingFeature, tableFeatures, useTable } from '@tanstack/react-table'
import { useVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useMemo, useRef } from 'react'
import type { HTMLAttributes, ReactNode } from 'react'

type SortValue = number | string | undefined

export interface TableColumn<Row> {
  readonly name: string
  /** What stands above it: its name unless said. */
  readonly head?: ReactNode
  readonly cell: (row: Row) => ReactNode
  /** What rows are sorted by when its head is pressed; those without a value come last. */
  readonly by?: (row: Row) => SortValue
  /** It says what the row is about. */
  readonly leads?: true
  /** Words stand on the left, numbers on the right. */
  readonly side?: 'left'
  /** Classes of its cells beside those of all. */
  readonly className?: string | ((row: Row) => string)
}

interface DataTableProps<Row> {
  /** For whoever does not see it. */
  readonly caption: string
  readonly columns: readonly TableColumn<Row>[]
  readonly rows: readonly Row[]
  readonly keyOf: (row: Row, index: number) => string
  readonly className?: string
  readonly rowProps?: (row: Row) => HTMLAttributes<HTMLTableRowElement> & Readonly<Record<`data-${string}`, string>>
  /** What stands under a row, over all its columns; `null` for nothing. */
  readonly below?: (row: Row) => ReactNode
  /** px, about: makes it scroll by itself, with only those rows on the page that are seen. */
  readonly rowHeight?: number
}

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel() })

/** Rows beyond those seen that are kept on the page, so that scrolling shows no gaps. */
const overscan = 12

/** Rows with columns, sorted by a press on a head. Long ones have only what is seen on the page. */
export function DataTable<Row extends object>(props: DataTableProps<Row>) {
  const { columns, rows, keyOf, rowHeight } = props
  const definitions = useMemo(() => {
    const helper = createColumnHelper<typeof features, Row>()
    return columns.map((column) =>
      helper.accessor((row): unknown => column.by?.(row), {
        id: column.name,
        enableSorting: column.by !== undefined,
        sortUndefined: 'last',
        sortFn: (a, b) => compared(column.by!(a.original), column.by!(b.original)),
      }),
    )
  }, [columns])
  const table = useTable({ features, columns: definitions, data: rows as Row[], getRowId: keyOf, enableSortingRemoval: true })
  const shown = table.getRowModel().rows
  const heads = table
    .getHeaderGroups()[0]!
    .headers.map(({ column }, i) => (
      <Head
        key={column.id}
        {...columns[i]!}
        scrolls={rowHeight !== undefined}
        sorted={column.getIsSorted()}
        onSort={() => column.toggleSorting()}
      />
    ))
  if (rowHeight !== undefined) return <Scrolling {...props} rowHeight={rowHeight} heads={heads} shown={shown} />
  return (
    <Framed {...props} heads={heads}>
      {shown.map(({ id, original }) => (
        <tbody key={id}>
          <Lines {...props} row={original} />
        </tbody>
      ))}
    </Framed>
  )
}

interface ScrollingProps<Row> extends DataTableProps<Row> {
  readonly rowHeight: number
  readonly heads: ReactNode
  readonly shown: readonly { readonly id: string; readonly original: Row }[]
}

function Scrolling<Row>({ heads, shown, ...props }: ScrollingProps<Row>) {
  const { caption, rowHeight } = props
  const container = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => container.current,
    estimateSize: () => rowHeight,
    overscan,
  })
  const seen = virtual.getVirtualItems()
  return (
    <div ref={container} className="grow min-h-0 overflow-auto [contain:size]" tabIndex={0} role="region" aria-label={caption}>
      <Framed {...props} heads={heads} count={shown.length}>
        <Gap height={seen[0]?.start ?? 0} />
        {seen.map(({ index }) => (
          <tbody key={shown[index]!.id} ref={virtual.measureElement} data-index={index}>
            <Lines {...props} row={shown[index]!.original} index={index} />
          </tbody>
        ))}
        <Gap height={virtual.getTotalSize() - (seen.at(-1)?.end ?? 0)} />
      </Framed>
    </div>
  )
}

interface FramedProps {
  readonly caption: string
  readonly className?: string
  readonly heads: ReactNode
  /** Of rows, where not all are on the page. */
  readonly count?: number
  readonly children: ReactNode
}

function Framed({ caption, className = '', heads, count, children }: FramedProps) {
  return (
    <table className={`w-full ${className}`} aria-rowcount={count === undefined ? undefined : count + 1}>
      <caption className="sr-only">{caption}</caption>
      <thead>
        <tr className="text-mist">{heads}</tr>
      </thead>
      {children}
    </table>
  )
}

interface LinesProps<Row> extends Pick<DataTableProps<Row>, 'columns' | 'rowProps' | 'below' | 'rowHeight'> {
  readonly row: Row
  /** Its place among all, where not all are on the page. */
  readonly index?: number
}

/** A row, and what stands under it. */
function Lines<Row>({ columns, rowProps, below, rowHeight, row, index }: LinesProps<Row>) {
  const under = below?.(row) ?? null
  return (
    <>
      <tr aria-rowindex={index === undefined ? undefined : index + 2} style={{ height: rowHeight }} {...rowProps?.(row)}>
        {columns.map((column) => (
          <Cell key={column.name} column={column} row={row} />
        ))}
      </tr>
      {under !== null && (
        <tr>
          <td colSpan={columns.length}>{under}</td>
        </tr>
      )}
    </>
  )
}

function compared(a: SortValue, b: SortValue): number {
  return typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b), undefined, { numeric: true })
}

interface HeadProps {
  readonly name: string
  readonly head?: ReactNode
  readonly by?: unknown
  readonly leads?: true
  readonly side?: 'left'
  readonly scrolls: boolean
  readonly sorted: false | 'asc' | 'desc'
  readonly onSort: () => void
}

function Head({ name, head = name, by, leads, side, scrolls, sorted, onSort }: HeadProps) {
  const aligned = leads === true || side === 'left' ? 'text-left' : 'text-right'
  const Arrow = sorted === 'desc' ? ArrowDown : ArrowUp
  return (
    <th
      scope="col"
      aria-sort={sorted === false ? undefined : sorted === 'asc' ? 'ascending' : 'descending'}
      className={`font-normal ${aligned} ${scrolls ? 'sticky top-0 bg-chalk px-2' : 'pl-2 first:pl-0'}`}
    >
      {by === undefined ? (
        head
      ) : (
        <button className="inline-flex items-center gap-0.5 hover:text-ink" onClick={onSort}>
          {head}
          {sorted !== false && <Arrow size={11} aria-hidden="true" />}
        </button>
      )}
    </th>
  )
}

function Cell<Row>({ column, row }: { readonly column: TableColumn<Row>; readonly row: Row }) {
  const { className = '' } = column
  const own = typeof className === 'string' ? className : className(row)
  if (column.leads === true)
    return (
      <th scope="row" className={`text-left font-normal ${own}`}>
        {column.cell(row)}
      </th>
    )
  return <td className={`${column.side === 'left' ? 'text-left' : 'text-right'} pl-2 ${own}`}>{column.cell(row)}</td>
}

/** The height of rows that are not on the page. */
function Gap({ height }: { readonly height: number }) {
  if (height <= 0) return null
  return (
    <tbody aria-hidden="true">
      <tr>
        <td style={{ height, padding: 0 }} />
      </tr>
    </tbody>
  )
}
