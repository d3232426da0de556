import { Download } from 'lucide-react'
import { useMemo, useState } from 'react'
import type { StateSpace } from '@calm-hand/core/linear'
import type { Document, Part } from '@calm-hand/core/document'
import { designLayers, pointNames, shortName } from '@calm-hand/core/machine'
import type { AnyLayer } from '@calm-hand/core/machine'
import { linearLayers } from '@calm-hand/core/tuning'
import { Folded } from '../../frame/Folded'
import { useAnswer } from '../../compute'
import type { PlantForm, SeenPlant } from '../../compute/loops/plantSeen'
import type { Judged, LoopView } from '../../compute/loops/loopView'
import { download } from '../../state/download'
import { ChoiceField, Toggle } from '../../sentence'
import { DataTable } from '../../table'
import type { TableColumn } from '../../table'
import { digitsOf } from '../../units'

interface PlantSeenProps {
  readonly document: Document
  readonly loop: string
  readonly now: Judged
  readonly view: LoopView
}

const forms: Readonly<Record<PlantForm, string>> = {
  plant: 'the plant as it is',
  machineOnly: 'the plant without its lags',
  sampled: 'the plant with its hold, sampled',
  delayed: 'the plant with its hold and delay, sampled',
  closed: 'the closed loop, sampled',
}

/** The linear plant that a loop sees in words, its poles and zeros, what does not show, its matrices, and all of that as files. */
export function PlantSeen({ document, loop, now, view }: PlantSeenProps) {
  const [form, setForm] = useState<PlantForm>('plant')
  const machine = document.machines[now.design.values.machine]!
  const layers = useMemo(() => linearLayers(machine), [machine])
  const [changed, setChanged] = useState<ReadonlySet<AnyLayer>>(new Set())
  const design = designLayers.all
  const isOn = (layer: AnyLayer) => design.has(layer) !== changed.has(layer)
  const points = pointNames(machine)
  const designed = now.design.values.point ?? ''
  const [point, setPoint] = useState<string>()
  const elsewhere = point !== undefined && point !== designed && ['', ...points].includes(point) ? point : undefined
  // its own lacks are told by its sentence, of which this may be a moment ahead
  const isOther = changed.size > 0 || elsewhere !== undefined
  const { plant } = now.design
  const canClose = now.analysis.notLinear === undefined
  const { closed: closedWords, ...openForms } = forms
  const options = canClose ? { ...openForms, closed: closedWords } : openForms
  const shown = form === 'closed' && !canClose ? 'sampled' : form
  const chosen = useAnswer('plantSeen', document, [loop, [...changed], elsewhere, shown], { subject: loop, rank: 3 }).answer
  return (
    <section className="section text-[12.5px]" aria-label="The plant it sees">
      <h3 className="pb-1">The plant it sees</h3>
      <p>
        From {view.axis.label} to {view.quantity.label}: <b className="font-semibold">{plant.words}</b>, linearized exactly at its
        operating point{plant.isCascade ? ', with other loops closed' : ''}.
      </p>
      {layers.length > 0 && (
        <ul className="pt-1">
          {layers.map(({ name, label }) => (
            <li key={name} className="flex items-center gap-2">
              <Toggle label={label} on={isOn(name)} onChange={() => setChanged(turned(changed, name))} />
              {label}
            </li>
          ))}
        </ul>
      )}
      {points.length > 0 && (
        <p className="pt-1">
          About{' '}
          <ChoiceField
            label="operating point that is looked at"
            value={elsewhere ?? designed}
            options={{
              '': 'where the machine works',
              ...Object.fromEntries(points.map((one) => [one, shortName(one, machine)])),
            }}
            onChoose={setPoint}
          />
        </p>
      )}
      {isOther && <p className="note">What follows is of this choice; the design goes on with its own.</p>}
      {chosen?.kind === 'refused' &&
        (isOther && view.problems.length === 0 ? (
          <p role="alert" className="text-coral-text">
            {chosen.problems[0]!.what} {chosen.problems[0]!.remedy}
          </p>
        ) : (
          <p className="note">It has no gains, so there is nothing to look at: its sentence says why.</p>
        ))}
      <p className="pt-1">
        Below,{' '}
        <ChoiceField label="which form" value={form} options={options} onChoose={(chosen) => setForm(chosen as PlantForm)} />
      </p>
      {chosen?.kind === 'done' && (
        <>
          <Modes seen={chosen.value} />
          <Measures machine={machine} seen={chosen.value} />
          <Files system={chosen.value.system} name={`${view.quantity.label.replaceAll(' ', '-')}-${form}`} />
          <Folded title="Matrices">
            <Matrices machine={machine} system={chosen.value.system} />
          </Folded>
        </>
      )}
    </section>
  )
}

function turned(set: ReadonlySet<AnyLayer>, name: AnyLayer): ReadonlySet<AnyLayer> {
  const next = new Set(set)
  if (!next.delete(name)) next.add(name)
  return next
}

/** Poles and zeros of the first output, and how many states nothing moves or shows. */
function Modes({ seen: { system, poles, zeros, lost } }: { readonly seen: SeenPlant }) {
  return (
    <>
      <p className="pt-1">
        Poles <span className="number">{listed(poles)}</span>
        <span className="text-mist"> 1/s</span>
      </p>
      <p>
        Zeros{' '}
        {zeros.length === 0 ? (
          <span className="text-mist">none</span>
        ) : (
          <span className="number">
            {listed(zeros)} <span className="text-mist">{system.dt === null ? '1/s' : 'z'}</span>
          </span>
        )}
      </p>
      <p className="note">
        {system.a.length} states;{' '}
        {lost === 0 ? 'all are reached and shown' : `${lost} of them ${lost === 1 ? 'is' : 'are'} not reached or not shown here`}.
      </p>
    </>
  )
}

/** Below this cosine a mode counts as hardly reached or shown: common practice, no source. */
const hardly = 1e-3

type Mode = SeenPlant['measures'][number]

/** How far the input moves each mode and each output shows it. */
function Measures({ machine, seen: { system, measures } }: { readonly machine: Part; readonly seen: SeenPlant }) {
  if (measures.length === 0) return null
  const share = (name: string, of: (mode: Mode) => number): TableColumn<Mode> => ({
    name,
    by: of,
    className: (mode) => `number ${of(mode) < hardly ? 'text-coral-text' : ''}`,
    cell: (mode) => (of(mode) < hardly ? 'hardly' : digitsOf(of(mode), '', 2)),
  })
  return (
    <Folded title="What moves and shows each mode">
      <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Modes, how they are moved and shown">
        <DataTable
          caption="What moves and shows each mode"
          className="text-[11px]"
          columns={[
            {
              name: 'pole, 1/s',
              leads: true,
              by: ({ pole }) => Math.hypot(pole.re, pole.im),
              className: 'number whitespace-nowrap',
              cell: ({ pole }) => listed([pole]),
            },
            ...system.inputs.map((input, i) => share(`moved by ${shortName(input, machine)}`, ({ reached }) => reached[i]!)),
            ...system.outputs.map((output, i) => share(`shown by ${shortName(output, machine)}`, ({ shown }) => shown[i]!)),
          ]}
          rows={measures}
          // a pole may be there twice
          keyOf={(_, i) => String(i)}
          rowProps={() => ({ className: 'border-t border-line' })}
        />
      </div>
      <p className="note">1: along it alone; it depends on the units of the states.</p>
    </Folded>
  )
}

/** Of the largest of its sort: below it a part is what rounding left of 0. */
const rounding = 1e-12

function listed(all: readonly { readonly re: number; readonly im: number }[]): string {
  const least = rounding * Math.max(...all.map(({ re, im }) => Math.hypot(re, im)))
  const clean = (value: number) => (Math.abs(value) < least ? 0 : value)
  return all
    .filter(({ im }) => im > -1e-9)
    .map(({ re, im }) =>
      Math.abs(im) < 1e-9 ? digitsOf(clean(re), '', 4) : `${digitsOf(clean(re), '', 3)} ± ${digitsOf(Math.abs(im), '', 3)}j`,
    )
    .join(', ')
}

/** The form as CSV, JSON and LaTeX. */
function Files({ system, name }: { readonly system: StateSpace; readonly name: string }) {
  const save: Readonly<Record<string, () => Promise<void>>> = {
    CSV: async () => {
      const { matricesToText } = await import('@calm-hand/core/formats')
      download(`${name}.csv`, matricesToText(system), 'text/csv')
    },
    JSON: async () => download(`${name}.json`, `${JSON.stringify(system, null, 2)}\n`, 'application/json'),
    LaTeX: async () => {
      const { linearInLetters, transferInLetters } = await import('@calm-hand/core/letters')
      const lines = [...(linearInLetters(system) ?? []), ...transferInLetters(system)]
      const body =
        lines.length === 0 ? '% too large to read as letters: take the CSV' : lines.map((line) => `\\[ ${line} \\]`).join('\n')
      download(`${name}.tex`, `${body}\n`, 'text/x-tex')
    },
  }
  return (
    <p className="flex gap-1 pt-1">
      {Object.entries(save).map(([kind, does]) => (
        <button key={kind} className="button small" aria-label={`Save as ${kind}`} onClick={() => void does()}>
          <Download size={12} /> {kind}
        </button>
      ))}
    </p>
  )
}

/** More columns than this are read row by row: the matrix scrolls by itself. */
const mostShown = 16

function Matrices({ machine, system }: { readonly machine: Part; readonly system: StateSpace }) {
  const [states, inputs, outputs] = [system.states, system.inputs, system.outputs].map((names) =>
    names.map((name) => shortName(name, machine)),
  ) as [string[], string[], string[]]
  const matrices = [
    { name: 'A', rows: system.a, down: states, across: states },
    { name: 'B', rows: system.b, down: states, across: inputs },
    { name: 'C', rows: system.c, down: outputs, across: states },
    { name: 'D', rows: system.d, down: outputs, across: inputs },
  ]
  return (
    <>
      <p className="note py-1">
        States: {states.join(', ')}. Outputs: {outputs.join(', ')}.
      </p>
      {matrices.map(({ name, rows, down, across }) => (
        <div key={name} className={`flex gap-2 py-0.5 ${rows.length > mostShown ? 'h-[300px]' : ''}`}>
          <span className="text-mist">{name}</span>
          <DataTable
            caption={`Matrix ${name}`}
            className="number border-l border-r border-line-2 !w-auto"
            columns={across.map((column, j) => ({
              name: `${j} ${column}`,
              head: <span className="sr-only">{column}</span>,
              className: 'px-1.5',
              cell: ({ row, of }: MatrixRow) => <span title={`${of} by ${column}`}>{digitsOf(row[j]!, '', 4)}</span>,
            }))}
            rows={rows.map((row, i): MatrixRow => ({ row, of: down[i]! }))}
            keyOf={(_, i) => String(i)}
            {...(rows.length > mostShown ? { rowHeight: 17 } : {})}
          />
        </div>
      ))}
    </>
  )
}

interface MatrixRow {
  readonly row: readonly number[]
  readonly of: string
}
