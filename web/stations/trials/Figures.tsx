import { partsIn } from '@calm-hand/core/document'
import type { TrialPart } from '@calm-hand/core/document'
import { divergenceLimit } from '@calm-hand/core/simulation'
import type { TrialFigures } from '@calm-hand/core/simulation'
import { Chip } from '../../tray/Tray'
import { useOpen } from '../../state/project'
import { endWords } from '../../endWords'
import { DataTable } from '../../table'
import type { TableColumn } from '../../table'
import { digitsOf, motionUnit, withUnit } from '../../units'
import { leftOut } from './leftOut'
import type { HeldView, TrialView } from './useTrialView'

interface Column {
  readonly name: string
  readonly words: (figures: TrialFigures, held: HeldView) => string
}

interface FigureRow {
  readonly name: string
  readonly words: React.ReactNode
  readonly figures: TrialFigures | undefined
}

const runsAway = ({ worst }: TrialFigures) => worst > divergenceLimit

const amount = (value: number, unit: string) => (Math.abs(value) < 1e-6 ? `0 ${unit}` : withUnit(value, unit, 2))
const seconds = (value: number | undefined) => (value === undefined ? 'never' : `${value.toFixed(2)} s`)

const overshoot: Column = { name: 'overshoot', words: (figures) => `${digitsOf(100 * figures.overshoot, '', 3)} %` }
const ending: Column = {
  name: 'steady error',
  words: (figures, { quantity: { unit } }) => endWords(figures, unit),
}
const peak: Column = { name: 'peak command', words: ({ peakCommand }, { push }) => withUnit(peakCommand, push.unit, 3) }
const far: readonly Column[] = [
  { name: 'rms error', words: ({ rms }, { quantity: { unit } }) => amount(rms, unit) },
  { name: 'largest error', words: ({ worst }, { quantity: { unit } }) => amount(worst, unit) },
]

/** Of a step how it arrives, of a motion how it is followed, of a loop that shall stay how far it is moved. */
const columnsFor: Readonly<Record<'step' | 'motion' | 'nothing', readonly Column[]>> = {
  step: [
    { name: 'rise', words: ({ rise }) => seconds(rise) },
    overshoot,
    { name: 'settling', words: ({ settling }) => seconds(settling) },
    ending,
    peak,
  ],
  motion: [{ name: 'lag', words: ({ lag }) => (lag === undefined ? '–' : `${digitsOf(lag, 's', 3)} s`) }, ...far, ending, peak],
  nothing: [...far, ending, peak],
}
const notes = {
  step: 'rise 10-90 %, settling within 2 %',
  motion: 'lag by the delay of the reference that fits best',
  nothing: 'nothing is asked of it: how far it is moved',
} as const

/** The same figures for simulation, prediction and pinned runs. */
export function Figures({ view }: { readonly view: TrialView }) {
  const document = useOpen((project) => project.valid)
  if (view.held === undefined) return null
  const held = inMotionUnits(view.held)
  const rows: FigureRow[] = [
    { name: 'simulated', words: 'simulated', figures: held.figures.simulated },
    { name: 'predicted', words: 'predicted', figures: held.figures.predicted },
    ...view.pinned.map(({ letter, figures, title }) => ({
      name: `pinned ${letter}`,
      words: (
        <span className="flex items-center gap-1.5" title={title}>
          <Chip letter={letter} /> pinned
        </span>
      ),
      figures,
    })),
  ]
  const asked = askedSort(document.trials[view.trial]!, held.loop)
  const columns = columnsFor[asked]
  return (
    <section className="border-t border-line px-4 py-2 overflow-auto max-h-[190px]" aria-label="Figures">
      <h3 className="pb-0.5">
        Figures of {held.quantity.label} <span className="font-normal text-mist">{notes[asked]}</span>
      </h3>
      <DataTable
        caption={`Figures of ${held.quantity.label}`}
        className="text-[12.5px]"
        columns={[
          { name: 'run', leads: true, className: 'font-medium', cell: ({ words }) => words },
          ...columns.map(({ name, words }): TableColumn<FigureRow> => ({
            name,
            className: 'number',
            cell: ({ figures }) => {
              if (figures === undefined) return '–'
              return runsAway(figures) ? 'runs away' : words(figures, held)
            },
          })),
        ]}
        rows={rows}
        keyOf={({ name }) => name}
        rowProps={({ name }) => ({ className: 'h-[22px]', 'data-figures': name })}
      />
      {held.prediction !== undefined && <p className="note pt-1">{leftOut(document, view.trial).join(' ')}</p>}
    </section>
  )
}

function inMotionUnits(held: HeldView): HeldView {
  const { quantity, push } = held
  return { ...held, quantity: { ...quantity, unit: motionUnit(quantity.unit) }, push: { ...push, unit: motionUnit(push.unit) } }
}

/** What the cues of a trial ask of a loop: steps alone, or more. */
function askedSort(trial: TrialPart, loop: string): keyof typeof columnsFor {
  const mine = Object.values(partsIn(trial.cues)).filter((cue) => cue.loop === loop)
  if (mine.length === 0) return 'nothing'
  return mine.every(({ kind }) => kind === 'stepCue' || kind === 'switchCue') ? 'step' : 'motion'
}
