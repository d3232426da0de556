import { Ellipsis } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { chalk, downloadPng, downloadSvg, seriesToCsv, seriesToTable } from './export'
import { download } from '../state/download'
import type { Series } from './series'

interface ChartMenuProps {
  readonly title: string
  readonly series: readonly Series[]
  readonly plot: React.RefObject<HTMLDivElement | null>
  readonly asTable: boolean
  readonly onTable: (on: boolean) => void
}

/** Table view, and the chart as PNG, SVG and CSV. */
export function ChartMenu({ title, series, plot, asTable, onTable }: ChartMenuProps) {
  const file = title.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')
  const drawing = () => plot.current?.querySelector('svg') ?? undefined
  const png = async (scale: number, background: string | undefined) => {
    const svg = drawing()
    if (svg !== undefined) await downloadPng(svg, file, scale, background)
  }
  const items: [string, () => void][] = [
    [asTable ? 'Show as curves' : 'Show as a table', () => onTable(!asTable)],
    ['Copy as a table', () => void navigator.clipboard?.writeText(seriesToTable(series))],
    ['Save as PNG', () => void png(2, chalk())],
    ['Save as large PNG, transparent', () => void png(4, undefined)],
    ['Save as SVG', () => drawing() !== undefined && downloadSvg(drawing()!, file, undefined)],
    ['Save as CSV', () => download(`${file}.csv`, seriesToCsv(series), 'text/csv')],
  ]
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <button
          className="size-6 grid place-items-center rounded hover:bg-fog-2 text-mist"
          aria-label={`${title}: table and export`}
        >
          <Ellipsis size={15} />
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="popover p-1" align="end" collisionPadding={8}>
          {items.map(([words, does]) => (
            <DropdownMenu.Item
              key={words}
              onSelect={does}
              className="px-3 h-8 flex items-center rounded cursor-pointer outline-none data-[highlighted]:bg-kelp-tint"
            >
              {words}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
