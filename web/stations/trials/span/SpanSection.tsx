import { useMemo, useState } from 'react'
import { signalValues, signalsOf, spanAsked, spectrumAsked } from '@calm-hand/core/simulation'
import type { SpanFigures } from '@calm-hand/core/simulation'
import { roleOfLetter } from '../../../chart'
import type { SeriesRole } from '../../../chart'
import { useAnswer } from '../../../compute'
import type { SpanRead } from '../../../compute/span'
import { ChoiceField, Sentence } from '../../../sentence'
import { useClock } from '../../../state/clock'
import { setValue } from '../../../state/edits'
import { edit, useOpen } from '../../../state/project'
import { DataTable } from '../../../table'
import { digitsOf, shownUnit, signalUnit, withUnit } from '../../../units'
import { FindSignal } from '../FindSignal'
import { firstWindow } from '../firstWindow'
import type { SignalOverTime } from '../firstWindow'
import type { TrialView } from '../useTrialView'
import { Distribution, Power, Together } from './SpanCharts'
import type { ReadCurve } from './SpanCharts'

interface Row {
  readonly curve: string
  readonly figures: SpanFigures
}

interface SpectrumSaid {
  readonly window?: 'hann' | 'rectangular'
  readonly pieces?: keyof typeof piecesOf
  readonly other?: string
}

type SpanSaid = SignalOverTime & { readonly spectrum?: SpectrumSaid }

/** About how many pieces a spectrum is the mean of. */
const piecesOf = { one: 1, few: 8, many: 32 } as const

const looks = ['spectrum', 'coherence', 'histogram'] as const

/** What a signal does between two instants: figures of the run, its prediction and the pinned runs, spectrum and histogram. */
export function SpanSection({ view }: { readonly view: TrialView }) {
  const { trial, record } = view
  const document = useOpen((project) => project.valid)
  const [look, setLook] = useState<(typeof looks)[number]>('spectrum')
  const said = document.trials[trial]!.span as SpanSaid | undefined
  const { signal, from, to, spectrum = {} }: SpanSaid = said ?? firstWindow(view)
  const { window = 'hann', pieces = 'few', other } = spectrum
  const known = signalsOf(document, trial, record).find(({ name }) => name === signal)
  const curves = useMemo(() => curvesOf(view, document, signal, other), [view, document, signal, other])
  const sent = useMemo(
    () =>
      curves.map(({ name, time, values, other: beside }) => ({
        name,
        time,
        values,
        ...(beside === undefined ? {} : { other: beside }),
      })),
    [curves],
  )
  const hashes = [record?.hash, ...view.pinned.map(({ record: run, letter }) => `${letter} ${run.hash}`)].join(' ')
  const predicted = curves.find(({ role }) => role === 'prediction')?.values.length ?? 0
  const { answer } = useAnswer(
    'spanRead',
    document,
    curves.length === 0 ? undefined : [sent, from, to, { window, pieces: piecesOf[pieces] }],
    {
      ...{ subject: trial, key: [hashes, predicted, signal, from, to, curves.length, window, pieces, other].join(' ') },
    },
  )
  const unit = signalUnit(known ?? { name: signal, unit: '' })
  const size = (value: number) => withUnit(value, unit, 3)
  const put = (change: Partial<SpanSaid>) =>
    edit(
      setValue(`trials.${trial}.span`, { kind: spanAsked.name, ...firstWindow(view), ...said, ...change }, 'Read another span'),
    )
  const putSpectrum = (change: SpectrumSaid) => put({ spectrum: { ...{ kind: spectrumAsked.name }, ...spectrum, ...change } })
  const all = signalsOf(document, trial, record)
  const otherLabel = all.find(({ name }) => name === other)?.label ?? other
  const first = answer?.[0]
  const path = `trials.${trial}.span`
  const label = known?.label ?? `${signal} (not in this run)`
  const signalSlot = (
    <FindSignal view={view} onTake={(next) => put({ signal: next })}>
      <button className="slot" aria-label={`signal: ${label}`}>
        {label}
      </button>
    </FindSignal>
  )
  if (record === undefined)
    return <p className="note border-t border-line px-4 pt-2 pb-1">Run the trial first (R): then it can be read.</p>
  return (
    <section className="border-t border-line px-4 pt-2 pb-1 overflow-auto max-h-[310px]" aria-label="Read between two instants">
      <div className="flex flex-wrap items-baseline gap-x-1.5">
        {said === undefined ? (
          <p className="text-[13.5px] leading-[26px]">
            From <b className="number font-medium">{from} s</b> to <b className="number font-medium">{to} s</b>, {signalSlot}
          </p>
        ) : (
          <Sentence className="text-[13.5px] leading-[26px]" says={spanAsked.says} path={path} own={{ signal: signalSlot }} />
        )}
        {first !== undefined && (
          <p className="text-[13.5px] leading-[26px]">
            {changeWords(first.figures, size)}; it is most {size(first.figures.most.value)} at {first.figures.most.at.toFixed(2)}{' '}
            s.
          </p>
        )}
      </div>
      {answer !== undefined && answer.length === 0 && (
        <p className="finding border-ochre">
          Nothing of this signal lies between {from} s and {to} s. The run goes from 0 s to {view.end.toFixed(2)} s.
        </p>
      )}
      {answer !== undefined && answer.length > 0 && (
        <>
          <Table rows={answer} unit={unit} rateUnit={perSecond(unit)} />
          <div className="flex items-center gap-1.5 pt-1">
            <div className="flex gap-1 grow" role="group" aria-label="What is drawn of it">
              {looks.map((one) => (
                <button
                  key={one}
                  className={`button small border-transparent ${one === look ? 'chosen' : ''}`}
                  aria-pressed={one === look}
                  onClick={() => setLook(one)}
                >
                  {one}
                </button>
              ))}
            </div>
            <button className="button small" onClick={() => put({ from: atCursor(0, to) })}>
              From the cursor
            </button>
            <button className="button small" onClick={() => put({ to: atCursor(from, Infinity) })}>
              To the cursor
            </button>
          </div>
          {look !== 'histogram' && (
            <p className="text-[12.5px] leading-[22px]">
              Through a{' '}
              <ChoiceField
                label="window"
                value={window}
                options={spectrumAsked.slots.window.options}
                onChoose={(next) => putSpectrum({ window: next as typeof window })}
              />{' '}
              window, the mean of{' '}
              <ChoiceField
                label="averaged over"
                value={pieces}
                options={spectrumAsked.slots.pieces.options}
                onChoose={(next) => putSpectrum({ pieces: next as typeof pieces })}
              />
              {look === 'coherence' && (
                <>
                  , with{' '}
                  <FindSignal view={view} without={new Set([signal])} onTake={(next) => putSpectrum({ other: next })}>
                    <button className="slot" aria-label={`with: ${otherLabel ?? 'nothing'}`}>
                      {otherLabel ?? 'choose a signal'}
                    </button>
                  </FindSignal>
                </>
              )}
              .
            </p>
          )}
          <div className="h-[128px] grid">
            {look === 'spectrum' ? (
              <Power read={answer} curves={curves} label={label} unit={unit} />
            ) : look === 'coherence' ? (
              otherLabel === undefined ? (
                <p className="note">Choose the signal with which it may go together, such as a command.</p>
              ) : (
                <Together read={answer} curves={curves} label={label} other={otherLabel} />
              )
            ) : (
              <Distribution read={answer} curves={curves} label={label} unit={unit} />
            )}
          </div>
        </>
      )}
    </section>
  )
}

interface TableProps {
  readonly rows: readonly SpanRead[]
  readonly unit: string
  readonly rateUnit: string
}

function Table({ rows, unit, rateUnit }: TableProps) {
  const largest = Math.max(...rows.flatMap(({ figures: { least, most } }) => [Math.abs(least.value), Math.abs(most.value)]))
  const number = (value: number) => (Math.abs(value) < nothing * largest ? '0' : digitsOf(value, unit, 3))
  const column = (name: string, cell: (figures: SpanFigures) => React.ReactNode, by: (figures: SpanFigures) => number) =>
    ({ name, className: 'number', cell: ({ figures }: Row) => cell(figures), by: ({ figures }: Row) => by(figures) }) as const
  const extreme = ({ value, at }: SpanFigures['most']) => (
    <span title={`at ${at.toFixed(3)} s`}>
      {number(value)} <span className="text-mist">at {at.toFixed(1)} s</span>
    </span>
  )
  return (
    <DataTable
      caption="Figures between the two instants"
      className="text-[12.5px] whitespace-nowrap"
      columns={[
        { name: 'run', head: `in ${shownUnit(unit)}`, leads: true, className: 'font-medium', cell: ({ curve }: Row) => curve },
        column('change', ({ change }) => number(change), ({ change }) => change), // prettier-ignore
        column('mean', ({ mean }) => number(mean), ({ mean }) => mean), // prettier-ignore
        column('rms', ({ rms }) => number(rms), ({ rms }) => rms), // prettier-ignore
        column('least', ({ least }) => extreme(least), ({ least }) => least.value), // prettier-ignore
        column('most', ({ most }) => extreme(most), ({ most }) => most.value), // prettier-ignore
        {
          ...column('fastest', ({ fastest }) => digitsOf(fastest.value, rateUnit, 3), ({ fastest }) => Math.abs(fastest.value)), // prettier-ignore
          head: shownUnit(rateUnit),
        },
      ]}
      rows={rows.map(({ name, figures }) => ({ curve: name, figures }))}
      keyOf={({ curve }) => curve}
      rowProps={() => ({ className: 'h-[21px]' })}
    />
  )
}

function perSecond(unit: string): string {
  if (unit === 'rad') return '°/s'
  return unit.endsWith('/s') ? `${unit}²` : `${unit}/s`
}

/** Share of the largest value below which one is rounding. */
const nothing = 1e-9

/** The run, its prediction, and the pinned runs. */
function curvesOf(
  view: TrialView,
  document: Parameters<typeof signalValues>[0],
  signal: string,
  other: string | undefined,
): readonly ReadCurve[] {
  const { record, held, watched, machineName, pinned } = view
  const of = (name: string, role: SeriesRole, run: TrialView['record']): ReadCurve[] => {
    const values = run === undefined ? undefined : signalValues(document, run, signal)
    const beside = values === undefined || other === undefined ? undefined : signalValues(document, run!, other)
    return values === undefined
      ? []
      : [{ name, role, time: run!.time, values, ...(beside === undefined ? {} : { other: beside }) }]
  }
  const isHeld = held !== undefined && signal === `${machineName}.${held.quantity.name}`
  const watch = watched.find(({ name }) => name === signal)?.predicted
  const predicted =
    isHeld && held.prediction !== undefined
      ? [{ name: 'predicted', role: 'prediction' as const, time: held.prediction.t, values: held.prediction.held }]
      : watch === undefined
        ? []
        : [{ name: 'predicted', role: 'prediction' as const, time: watch.t, values: watch.values }]
  const role = record?.columns.find(({ name }) => name === signal)?.role
  return [
    ...of('simulated', role === undefined || role === 'term' ? 'actual' : role, record),
    ...predicted,
    ...pinned.flatMap(({ letter, record: run }) => of(letter, roleOfLetter(letter), run)),
  ]
}

/** s, to the hundredth: the cursor, between two ends that stay apart. */
function atCursor(least: number, most: number): number {
  const leastApart = 0.01
  const { cursor } = useClock.getState()
  return Number(Math.max(least === 0 ? 0 : least + leastApart, Math.min(cursor, most - leastApart)).toFixed(2))
}

function changeWords({ change, deviation }: SpanFigures, size: (value: number) => string): string {
  if (Math.abs(change) <= 1e-9 + 1e-6 * deviation) return 'ends where it began'
  return change > 0 ? `rises by ${size(change)}` : `falls by ${size(-change)}`
}
