import { useMemo } from 'react'
import type { Part } from '@calm-hand/core/document'
import { ground } from '@calm-hand/core/machine'
import { withUnit } from '../../../units'
import { sketchOf } from './sketch'
import type { SketchBody, Spot } from './sketch'

interface MechanismRiggingProps {
  readonly machine: Part
  readonly freedoms: number | undefined
  readonly chosen: string
  readonly onChoose: (body: string) => void
  readonly children?: React.ReactNode
}

const width = 320
const height = 230
/** Above this many bodies only the chosen one and those on ground are named. */
const mostNamed = 8

/** Bodies as beads on lines from ground upward, joints in the symbols of kinematic diagrams (ISO 3952, from memory). */
export function MechanismRigging({ machine, freedoms, chosen, onChoose, children }: MechanismRiggingProps) {
  const sketch = useMemo(() => sketchOf(machine, width, height), [machine])
  const chains = sketch.closings.length
  const few = sketch.bodies.length <= mostNamed
  const named = ({ name, on }: SketchBody) => few || name === chosen || (on === ground && sketch.bodies.length < 30)
  const places = labelPlaces(sketch.bodies, named)
  return (
    <section className="section" aria-label="Rigging">
      <div className="flex items-baseline gap-2 pb-1">
        <h2>Rigging</h2>
        <span className="note grow">
          {sketch.bodies.length} {sketch.bodies.length === 1 ? 'body' : 'bodies'}
          {freedoms !== undefined && `, ${freedoms} ${freedoms === 1 ? 'freedom' : 'freedoms'}`}
          {chains > 0 && `, ${chains} closed ${chains === 1 ? 'chain' : 'chains'}`}
        </span>
        {children}
      </div>
      <svg viewBox={`0 0 ${width} ${height}`} className="w-full" fontSize="11">
        {sketch.grounds.map((at, i) => (
          <Ground key={i} at={at} />
        ))}
        {sketch.bodies.map((body) => (
          <Lines key={body.name} body={body} chosen={body.name === chosen} />
        ))}
        {sketch.closings.map((at, i) => (
          <circle key={i} cx={at.x} cy={at.y} r="8.5" fill="var(--kelp-tint)" stroke="var(--kelp)" strokeDasharray="2 2" />
        ))}
        {sketch.bodies.map((body) => (
          <Joint key={body.name} body={body} chosen={body.name === chosen} />
        ))}
        {sketch.bodies.map((body) => (
          <Bead key={body.name} body={body} chosen={body.name === chosen} label={places.get(body.name)} onChoose={onChoose} />
        ))}
      </svg>
    </section>
  )
}

interface Label {
  readonly x: number
  readonly y: number
  readonly anchor: 'start' | 'middle' | 'end'
}

const letterWidth = 5.7
const lineHeight = 13

/** A place beside each bead that no label before it takes and that lies on the page; the last resort may overlap. */
function labelPlaces(bodies: readonly SketchBody[], named: (body: SketchBody) => boolean): ReadonlyMap<string, Label> {
  const taken: { left: number; right: number; top: number; bottom: number }[] = bodies.map(({ bead }) => ({
    left: bead.x - 5,
    right: bead.x + 5,
    top: bead.y - 5,
    bottom: bead.y + 5,
  }))
  const places = new Map<string, Label>()
  for (const body of bodies.filter(named)) {
    const { x, y } = body.bead
    const wide = letterWidth * labelText(body).length
    const candidates: Label[] = [
      { x: x + 9, y: y + 4, anchor: 'start' },
      { x: x - 9, y: y + 4, anchor: 'end' },
      ...[-16, 24, -30, 38, -44, 52].map((dy): Label => ({ x, y: y + dy, anchor: 'middle' })),
    ]
    const boxOf = ({ x: at, y: base, anchor }: Label) => {
      const left = anchor === 'start' ? at : anchor === 'end' ? at - wide : at - wide / 2
      return { left, right: left + wide, top: base - 10, bottom: base - 10 + lineHeight }
    }
    const free = (label: Label) => {
      const box = boxOf(label)
      const onPage = box.left > 0 && box.right < width && box.top > 0 && box.bottom < height
      return (
        onPage &&
        taken.every((one) => box.right < one.left || box.left > one.right || box.bottom < one.top || box.top > one.bottom)
      )
    }
    const chosen = candidates.find(free) ?? candidates[2]!
    taken.push(boxOf(chosen))
    places.set(body.name, chosen)
  }
  return places
}

function labelText({ label, mass }: SketchBody): string {
  return mass > 0 ? `${label} ${withUnit(mass, 'kg', 3)}` : label
}

function Ground({ at }: { readonly at: Spot }) {
  return (
    <g stroke="var(--ink)" fill="none">
      <path
        d={`M${at.x - 9} ${at.y + 14} L${at.x} ${at.y} L${at.x + 9} ${at.y + 14} M${at.x - 14} ${at.y + 14} H${at.x + 14}`}
        strokeWidth="1.3"
      />
      {[-12, -6, 0, 6, 12].map((dx) => (
        <line key={dx} x1={at.x + dx} y1={at.y + 14} x2={at.x + dx - 5} y2={at.y + 20} />
      ))}
    </g>
  )
}

function Lines({ body, chosen }: { readonly body: SketchBody; readonly chosen: boolean }) {
  const stroke = chosen ? 'var(--kelp)' : 'var(--ink)'
  const style = { stroke, strokeWidth: chosen ? 3 : 2.2, strokeLinecap: 'round' as const }
  const free = body.joint === 'free'
  return (
    <>
      {free && (
        <line
          x1={body.at.x}
          y1={body.at.y}
          x2={body.bead.x}
          y2={body.bead.y}
          {...style}
          strokeWidth={1.6}
          strokeDasharray="1 5"
        />
      )}
      {!free && <line x1={body.at.x} y1={body.at.y} x2={body.bead.x} y2={body.bead.y} {...style} />}
      {body.ends.map((end, i) => (
        <line key={i} x1={body.bead.x} y1={body.bead.y} x2={end.x} y2={end.y} {...style} />
      ))}
    </>
  )
}

function Joint({ body, chosen }: { readonly body: SketchBody; readonly chosen: boolean }) {
  const { x, y } = body.at
  const stroke = chosen ? 'var(--kelp)' : 'var(--ink)'
  const common = { fill: 'var(--chalk)', stroke, strokeWidth: 1.6 }
  const tilt = (Math.atan2(body.along.y, body.along.x) * 180) / Math.PI
  switch (body.joint) {
    case 'turning':
      return <circle cx={x} cy={y} r="4.8" {...common} />
    case 'sliding':
      return <rect x={x - 11} y={y - 4.5} width="22" height="9" transform={`rotate(${tilt} ${x} ${y})`} {...common} />
    case 'turningSliding':
      return (
        <g transform={`rotate(${tilt} ${x} ${y})`}>
          <rect x={x - 11} y={y - 4.5} width="22" height="9" {...common} />
          <circle cx={x} cy={y} r="2.4" {...common} />
        </g>
      )
    case 'twoAxis':
      return (
        <g>
          <circle cx={x} cy={y} r="6" {...common} />
          <path d={`M${x - 6} ${y} H${x + 6} M${x} ${y - 6} V${y + 6}`} stroke={stroke} />
        </g>
      )
    case 'ball':
      return (
        <g>
          <path d={`M${x - 6} ${y + 3.5} A 7 7 0 0 1 ${x + 6} ${y + 3.5}`} fill="none" stroke={stroke} strokeWidth="1.6" />
          <circle cx={x} cy={y} r="3.8" {...common} />
        </g>
      )
    case 'fixed':
      return <rect x={x - 3.5} y={y - 3.5} width="7" height="7" fill={stroke} />
    default:
      return null
  }
}

interface BeadProps {
  readonly body: SketchBody
  readonly chosen: boolean
  readonly label: Label | undefined
  readonly onChoose: (body: string) => void
}

function Bead({ body, chosen, label, onChoose }: BeadProps) {
  const { x, y } = body.bead
  const choose = () => onChoose(body.name)
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${body.label}, ${withUnit(body.mass, 'kg', 3)}`}
      aria-pressed={chosen}
      className="cursor-pointer outline-none focus-visible:[&>circle:first-child]:stroke-kelp focus-visible:[&>circle:first-child]:stroke-2"
      onClick={choose}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return
        event.preventDefault()
        choose()
      }}
    >
      <circle cx={x} cy={y} r="11" fill={chosen ? 'var(--kelp-tint)' : 'transparent'} />
      <circle cx={x} cy={y} r="4.2" fill={chosen ? 'var(--kelp)' : 'var(--ink)'} />
      {label !== undefined && (
        <text x={label.x} y={label.y} textAnchor={label.anchor} fill="var(--ink)" fontWeight={chosen ? 600 : 400}>
          {body.label}
          {body.mass > 0 && (
            <tspan className="number" fill="var(--mist)" dx="4">
              {withUnit(body.mass, 'kg', 3)}
            </tspan>
          )}
        </text>
      )}
    </g>
  )
}
