import { labelOf } from '@calm-hand/core/kinds'
import type { StateSpace } from '@calm-hand/core/linear'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'

interface InfluenceSketchProps {
  readonly machine: Part
  /** The linear form, which tells what acts on what; nothing while it is not known. */
  readonly system: StateSpace | undefined
  readonly chosen: string
  readonly onChoose: (part: string) => void
}

const width = 300
const rowHeight = 30
const columns = { inputs: 26, states: 150, outputs: 274 } as const
type Group = keyof typeof columns

interface Bead {
  readonly group: Group
  readonly name: string
  readonly label: string
  readonly x: number
  readonly y: number
}

/** A machine without bodies as a line sketch: inputs from the left, states in the middle, outputs to the right. */
export function InfluenceSketch({ machine, system, chosen, onChoose }: InfluenceSketchProps) {
  const names = (group: Group) => Object.keys(partsIn(machine[group]))
  const partOf = (group: Group, name: string) => partsIn(machine[group])[name]
  const rows = Math.max(names('inputs').length, names('states').length, names('outputs').length, 1)
  const height = rows * rowHeight + 16
  const beads = (Object.keys(columns) as Group[]).flatMap((group) => {
    const list = names(group)
    return list.map((name, i): Bead => ({
      group,
      name,
      label: labelOf(partOf(group, name), name),
      x: columns[group],
      y: 14 + ((i + 0.5) * rows * rowHeight) / list.length - rowHeight / 2 + rowHeight / 2,
    }))
  })
  return (
    <section className="section" aria-label="What acts on what">
      <div className="flex items-baseline gap-2 pb-1">
        <h2>What acts on what</h2>
        <span className="note">
          {names('states').length} {names('states').length === 1 ? 'state' : 'states'}
        </span>
      </div>
      <svg viewBox={`0 0 ${width} ${height}`} className="w-full" fontSize="11.5">
        {system !== undefined &&
          linksOf(beads, system).map((path, i) => <path key={i} d={path} fill="none" stroke="var(--line-2)" strokeWidth="1.3" />)}
        {beads.map(({ group, name, label, x, y }) => {
          const own = `${group}.${name}`
          const anchor = group === 'inputs' ? 'start' : group === 'outputs' ? 'end' : 'middle'
          return (
            <g
              key={own}
              role="button"
              tabIndex={0}
              aria-pressed={chosen === own}
              aria-label={`${label}, ${group.slice(0, -1)}`}
              className="cursor-pointer"
              onClick={() => onChoose(own)}
              onKeyDown={(event) => (event.key === 'Enter' || event.key === ' ') && onChoose(own)}
            >
              <rect x={Math.min(Math.max(x - 36, 2), width - 74)} y={y - 21} width="72" height="30" rx="5" fill="transparent" />
              <circle
                cx={x}
                cy={y}
                r="5.5"
                fill={chosen === own ? 'var(--kelp)' : 'var(--chalk)'}
                stroke={group === 'inputs' ? 'var(--ochre)' : 'var(--kelp)'}
                strokeWidth="1.8"
              />
              <text
                x={anchor === 'start' ? x - 12 : anchor === 'end' ? x + 12 : x}
                y={y - 10}
                textAnchor={anchor}
                fill="var(--ink)"
                fontWeight={chosen === own ? 600 : 400}
              >
                {label}
              </text>
            </g>
          )
        })}
      </svg>
    </section>
  )
}

/** One line for each entry of the linear form that is not 0; a state that acts on another bows out to the right. */
function linksOf(beads: readonly Bead[], { a, b, c, d, states, inputs, outputs }: StateSpace): string[] {
  const at = (group: Group, name: string) => beads.find((bead) => bead.group === group && bead.name === name)
  const links: string[] = []
  const straight = (from: Bead | undefined, to: Bead | undefined) => {
    if (from !== undefined && to !== undefined)
      links.push(`M${from.x + 6} ${from.y} C${from.x + 50} ${from.y} ${to.x - 50} ${to.y} ${to.x - 6} ${to.y}`)
  }
  states.forEach((to, i) => {
    inputs.forEach((from, j) => b[i]![j] !== 0 && straight(at('inputs', from), at('states', to)))
    states.forEach((from, j) => {
      const [start, end] = [at('states', from), at('states', to)]
      if (i === j || a[i]![j] === 0 || start === undefined || end === undefined) return
      const bow = (j < i ? 26 : -26) + (j < i ? 5 : -5) * Math.abs(i - j)
      links.push(`M${start.x} ${start.y} Q${start.x + bow} ${(start.y + end.y) / 2} ${end.x} ${end.y}`)
    })
  })
  outputs.forEach((to, i) => {
    const end = at('outputs', to)
    if (end === undefined) return
    states.forEach((from, j) => c[i]![j] !== 0 && straight(at('states', from), end))
    inputs.forEach((from, j) => d[i]![j] !== 0 && straight(at('inputs', from), end))
  })
  return links
}
