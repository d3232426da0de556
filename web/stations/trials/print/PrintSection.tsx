import { useMemo } from 'react'
import { chartForPrint } from '@calm-hand/core/simulation'
import { valuesOf } from '@calm-hand/core/kinds'
import type { Part } from '@calm-hand/core/document'
import { paperColours, printedChart, seriesToCsv, svgToPng } from '../../../chart'
import type { PrintedPanel } from '../../../chart'
import { Sentence, SlotAt } from '../../../sentence'
import { download, fileNameOf } from '../../../state/download'
import { setValue } from '../../../state/edits'
import { edit, useOpen } from '../../../state/project'
import { shownUnit } from '../../../units'
import { firstWindow } from '../firstWindow'
import { ProblemsAt } from '../ProblemsAt'
import { groupsOf } from '../strips/groups'
import { windowOf } from '../strips/useTimeAxis'
import { SignalSlots } from '../strips/WatchSentence'
import type { TrialView } from '../useTrialView'

/** In which people say how large a chart is on paper. */
const millimetres = { name: 'mm', size: 1e-3 }
const inch = 25.4

/** A chart for a page: its sentence, how it will look, and the ways to save it. */
export function PrintSection({ view }: { readonly view: TrialView }) {
  const { trial, record } = view
  const document = useOpen((project) => project.valid)
  const said = document.trials[trial]!.print as Part | undefined
  const path = `trials.${trial}.print`
  const svg = useMemo(
    () => (said === undefined || record === undefined ? undefined : drawn(document, view, said)),
    [document, view, said, record],
  )
  if (record === undefined)
    return <p className="note border-t border-line px-4 pt-2 pb-1">Run the trial first (R): then it can be printed.</p>
  if (said === undefined)
    return (
      <p className="border-t border-line px-4 pt-2 pb-1 flex items-center gap-3">
        <span className="note grow">A chart as it stands on a page: so wide, so fine, kept with the trial.</span>
        <button
          className="button small"
          onClick={() =>
            edit(setValue(path, { kind: chartForPrint.name, signal: firstWindow(view).signal }, 'A chart for print'))
          }
        >
          Lay it out
        </button>
      </p>
    )
  const values = valuesOf(chartForPrint, said)
  const name = fileNameOf(`${String(document.trials[trial]!.title)} ${view.printed[0]?.label ?? ''}`)
  const png = async () => {
    const [width, height] = [values.width, values.height].map((side) => (1000 * side! * values.resolution!) / inch)
    download(`${name}.png`, await svgToPng(svg!, Math.round(width!), Math.round(height!), 1))
  }
  const [from, to] = windowOf(values, view.end)
  const csv = () =>
    download(`${name}.csv`, seriesToCsv(panelsOf(document, view, said).flatMap(({ series }) => series)), 'text/csv')
  return (
    <section className="border-t border-line px-4 pt-2 pb-1 overflow-auto max-h-[310px]" aria-label="Chart for print">
      <Sentence
        className="text-[13.5px] leading-[26px]"
        says={chartForPrint.says}
        path={path}
        own={{
          signal: <SignalSlots {...{ view, path }} part={said} signals={view.printed} />,
          from: <SlotAt path={`${path}.from`} {...(said.from === undefined ? { words: 'the start' } : {})} />,
          to: <SlotAt path={`${path}.to`} {...(said.to === undefined ? { words: 'the end' } : {})} />,
          width: <SlotAt path={`${path}.width`} unit={millimetres} />,
          height: <SlotAt path={`${path}.height`} unit={millimetres} />,
        }}
      />
      <ProblemsAt path={path} />
      <div className="flex gap-1.5 py-1">
        {(['SVG', 'PNG', 'CSV'] as const).map((format) => (
          <button
            key={format}
            className="button small"
            onClick={() => {
              if (format === 'SVG') download(`${name}.svg`, svg!, 'image/svg+xml')
              else if (format === 'PNG') void png()
              else csv()
            }}
          >
            Save as {format}
          </button>
        ))}
        <span className="note self-center">
          {from.toFixed(2)} s to {to.toFixed(2)} s
        </span>
      </div>
      {svg !== undefined && (
        <img
          className="w-full border border-line bg-white"
          alt={`${view.printed.map(({ label }) => label).join(', ')} as it will be printed`}
          src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`}
        />
      )}
    </section>
  )
}

type Valid = Parameters<typeof groupsOf>[0]

function panelsOf(document: Valid, view: TrialView, said: Part): readonly PrintedPanel[] {
  const { traces } = valuesOf(chartForPrint, said)
  const pinned = traces === 'all' ? view.pinned : []
  const signals = traces === 'run' ? view.printed.map((signal) => ({ ...signal, predicted: undefined })) : view.printed
  return groupsOf(document, { record: view.record, pinned }, { signals }).flatMap((group): PrintedPanel[] => {
    const label = [group.signals[0]!.label, shownUnit(group.unit)].filter((one) => one !== '').join(', ')
    if (group.kind === 'lines') return [{ label, series: group.series }]
    const spells = group.states ?? []
    const [xs, ys] = [spells.flatMap(({ from, to }) => [from, to]), spells.flatMap(({ value }) => [value, value])]
    return [{ label, series: [{ name: group.signals[0]!.label, role: 'actual', xs, ys }] }]
  })
}

function drawn(document: Valid, view: TrialView, said: Part): string {
  const { width, height, decimal, ...rest } = valuesOf(chartForPrint, said)
  const sizes = { width: 1000 * width!, height: 1000 * height! }
  return printedChart(
    panelsOf(document, view, said),
    'time, s',
    { ...sizes, decimal: decimal!, colour: paperColours() },
    windowOf(rest, view.end),
  )
}
