import { useState } from 'react'
import type { Document } from '@calm-hand/core/document'
import { shortName } from '@calm-hand/core/machine'
import type { ChannelFigures, Cut, TogetherFigures } from '@calm-hand/core/tuning'
import { Chart, HorizontalMark, Legend, VerticalMark } from '../../../chart'
import type { Series } from '../../../chart'
import { Phrase } from '../../../frame/Phrase'
import { ChoiceField } from '../../../sentence'
import { loopLabel } from '../../../state/labels'
import { useOpen } from '../../../state/project'
import { useTogether } from '../../../state/together'
import { DataTable } from '../../../table'
import type { TableColumn } from '../../../table'
import { decibels, degrees, frequencyAxis } from './axes'
import type { LookProps } from './look'

const cuts: Readonly<Record<Cut, string>> = {
  pushes: 'at the pushes',
  readings: 'at what is read',
  commands: 'at every command',
}

/** All closed loops of the machine: singular values, the margins of each channel while the others stay closed, and of all at once. */
export function TogetherLook({ document, now }: LookProps) {
  const [cut, setCut] = useState<Cut>('pushes')
  const { figures, late } = useTogether(document, now.design.values.machine, cut)
  const opened = (
    <span className="font-normal text-[12px]">
      opened{' '}
      <ChoiceField label="where the loops are opened" value={cut} options={cuts} onChoose={(next) => setCut(next as Cut)} />
    </span>
  )
  if (figures === undefined)
    return (
      <div className="p-2">
        <h3>All loops together {opened}</h3>
        <p className="note">
          {late
            ? 'Working out all loops of this machine together ...'
            : 'Not all loops have a design, or none of them is closed.'}
        </p>
      </div>
    )
  return (
    <div
      className={`h-full grid grid-cols-[minmax(0,1fr)] grid-rows-[3fr_4fr] min-h-0 ${late ? 'opacity-60' : ''}`}
      aria-busy={late}
    >
      <SingularValues figures={figures} opened={opened} />
      <div
        className="overflow-y-auto min-h-0 text-[12.5px]"
        tabIndex={0}
        role="region"
        aria-label="Margins of all loops together"
      >
        <AtOnce figures={figures} />
        <Channels machine={now.design.values.machine} channels={figures.channels} />
        {figures.still.length > 0 && (
          <p className="note pt-1">
            Standing still, since open or without a linear form:{' '}
            {figures.still.map((name) => loopLabel(document, name)).join(', ')}.
          </p>
        )}
      </div>
    </div>
  )
}

function SingularValues({ figures, opened }: { readonly figures: TogetherFigures; readonly opened: React.ReactNode }) {
  const { curve, atOnce } = figures
  const xs = curve.map(({ w }) => w)
  const series: Series[] = [
    { name: 'gain, largest', role: 'estimate', xs, ys: curve.map(({ gain }) => decibels(gain[0])) },
    { name: 'smallest', role: 'prediction', xs, ys: curve.map(({ gain }) => decibels(gain[1])) },
    { name: 'sensitivity', role: 'disturbance', xs, ys: curve.map(({ sensitivity }) => decibels(sensitivity)) },
    { name: 'complem.', role: 'actual', xs, ys: curve.map(({ complementary }) => decibels(complementary)) },
  ]
  const peak = Math.max(...curve.map(({ sensitivity }) => sensitivity))
  return (
    <div className="flex flex-col min-h-0">
      <div className="grow min-h-0">
        <Chart
          title="Singular values"
          unit="dB"
          x={frequencyAxis}
          y={{ domain: [-50, 50], ticks: [-40, -20, 0, 20, 40] }}
          series={series}
          cursor="frequency"
          heading={<h3 className="whitespace-nowrap text-[12.5px]">Singular values {opened}</h3>}
          legend={false}
          summary={`Of all loops together; the sensitivity peaks at ${peak.toPrecision(3)}.`}
        >
          <HorizontalMark at={0} />
          {atOnce !== undefined && <VerticalMark at={atOnce.w} dash="2 3" tone="mist" />}
        </Chart>
      </div>
      <div className="pb-1">
        <Legend series={series} />
      </div>
    </div>
  )
}

function AtOnce({ figures: { stable, atOnce } }: { readonly figures: TogetherFigures }) {
  if (stable === false)
    return (
      <p role="alert" className="finding border-coral">
        Closed together these loops are unstable, so the figures below are no margins.
      </p>
    )
  if (stable === undefined || atOnce === undefined)
    return (
      <p className="finding border-ochre">
        Their sample rates do not divide one another: whether all of them together are stable is not worked out.
      </p>
    )
  const { factor, phase, w } = atOnce
  return (
    <p className="finding border-kelp">
      All at once, each in its own way: every gain may change by a factor of up to{' '}
      <b className="number font-medium">{factor === Infinity ? 'any' : factor.toFixed(2)}</b> up or down, or every phase by up to{' '}
      <b className="number font-medium">{degrees(phase).toFixed(1)}°</b>. It binds at{' '}
      <span className="number">{w.toPrecision(3)} rad/s</span>.
    </p>
  )
}

/** A loop by its label, a push or a reading by that of its part. */
function channelLabel(document: Document, machine: string, name: string): string {
  if (document.loops[name] !== undefined) return loopLabel(document, name)
  return shortName(name, document.machines[machine])
}

function Channels({ machine, channels }: { readonly machine: string; readonly channels: readonly ChannelFigures[] }) {
  const document = useOpen((project) => project.valid)
  const gain = (factor: number | undefined) => (factor === undefined ? 'any' : `${decibels(factor).toFixed(1)}`)
  const columns: readonly TableColumn<ChannelFigures>[] = [
    { name: 'opened alone', leads: true, cell: ({ name }) => channelLabel(document, machine, name) },
    { name: 'rad/s', by: ({ crossover }) => crossover, cell: ({ crossover }) => crossover?.toPrecision(3) ?? 'none' },
    {
      name: 'in hand',
      head: <Phrase of="inHand" />,
      cell: ({ phaseMargin }) => (phaseMargin === undefined ? 'any' : `${degrees(phaseMargin).toFixed(0)}°`),
    },
    { name: 'gain, dB', by: ({ up }) => up, cell: ({ up, down }) => `${gain(down)} to ${gain(up)}` },
    {
      name: 'late, ms',
      by: ({ delay }) => delay,
      cell: ({ delay }) => (delay === undefined ? 'any' : (1000 * delay).toPrecision(3)),
    },
    { name: 'peak', head: <Phrase of="sensitivityPeak" />, cell: ({ margins }) => margins.sensitivityPeak.factor.toFixed(2) },
  ]
  return (
    <DataTable
      caption="Each opened alone, all others closed"
      className="mt-1.5 text-[11px] tracking-tight"
      columns={columns.map((one) => ({ ...one, className: one.leads === true ? '' : 'number whitespace-nowrap' }))}
      rows={channels}
      keyOf={({ name }) => name}
      rowProps={() => ({ className: 'border-t border-line' })}
    />
  )
}
