import type { FollowingFigures, ResponseFigures } from '@calm-hand/core/tuning'
import { strokes } from '../../chart'
import { endWords } from '../../endWords'
import { DataTable } from '../../table'
import type { TableColumn } from '../../table'
import { digitsOf, withUnit } from '../../units'
import { combinations } from '../../compute/loops/combinations'
import type { LoopView } from '../../compute/loops/loopView'
import type { Way } from '../../compute/loops/ways'

/** Beyond this many times what was asked a response runs off, and its figures say nothing more. */
const runsOff = 5

/** Figures of the same reference with both, each alone, and neither of feedback and feedforward. */
export function FourWays({ view, ways }: { readonly view: LoopView; readonly ways: readonly Way[] }) {
  const columns = view.asked.trial === undefined ? stepColumns : motionColumns
  const rows = combinations.flatMap(({ name, role }, i): WayRow[] => {
    const way = ways[i]
    if (way === undefined) return []
    const { answer, figures, following } = way
    return [
      { name, role, answered: { view, figures, following, reach: Math.max(...answer.wanted) - Math.min(...answer.wanted) } },
    ]
  })
  return (
    <DataTable
      caption="The same reference in four ways"
      className="text-[12px] mt-2"
      columns={[
        { name: 'with', leads: true, className: 'flex items-center gap-1.5', cell: withStroke },
        ...columns.map(({ name, words }): TableColumn<WayRow> => ({
          name,
          className: 'number',
          cell: ({ answered }) => words(answered),
        })),
      ]}
      rows={rows}
      keyOf={({ name }) => name}
    />
  )
}

interface WayRow {
  readonly name: string
  readonly role: (typeof combinations)[number]['role']
  readonly answered: Answered
}

function withStroke({ name, role }: WayRow) {
  const { color, dash } = strokes[role]
  return (
    <>
      <svg width="14" height="4" aria-hidden="true">
        <line x1="0" x2="14" y1="2" y2="2" stroke={`var(${color})`} strokeWidth="2" strokeDasharray={dash} />
      </svg>
      {name}
    </>
  )
}

interface Answered {
  readonly view: LoopView
  readonly figures: ResponseFigures
  readonly following: FollowingFigures
  /** How far the reference goes, to tell what runs off. */
  readonly reach: number
}

interface FigureColumn {
  readonly name: string
  readonly words: (answered: Answered) => string
}

function amount(value: number, { reach, view }: Answered): string {
  return Math.abs(value) > runsOff * reach ? 'runs off' : withUnit(value, view.quantity.unit, 3)
}

const overshoot: FigureColumn = {
  name: 'overshoot',
  words: ({ figures }) => (figures.overshoot > runsOff ? 'runs off' : `${digitsOf(100 * figures.overshoot, '', 3)} %`),
}
const endsOff: FigureColumn = {
  name: 'ends off by',
  words: (answered) => {
    const { steadyError } = answered.figures
    return steadyError === undefined ? endWords(answered.figures, answered.view.quantity.unit) : amount(steadyError, answered)
  },
}

const stepColumns: readonly FigureColumn[] = [
  { name: 'rise', words: ({ figures }) => (figures.rise === undefined ? 'never' : `${figures.rise.toFixed(2)} s`) },
  overshoot,
  endsOff,
]

const motionColumns: readonly FigureColumn[] = [
  {
    name: 'lag',
    words: ({ following: { lag, worst }, reach }) =>
      lag === undefined || worst > runsOff * reach ? '–' : `${digitsOf(lag, 's', 3)} s`,
  },
  overshoot,
  { name: 'worst', words: (answered) => amount(answered.following.worst, answered) },
]
