import { useEffect, useRef } from 'react'
import { DndContext, PointerSensor, useDraggable, useSensor, useSensors } from '@dnd-kit/core'
import type { Announcements } from '@dnd-kit/core'
import type { Lane } from '@calm-hand/core/simulation'
import { setValue } from '../../state/edits'
import { cancel, edit, preview } from '../../state/project'
import { labelDrop, labelRows } from './cueLabels'
import { stripMargin } from './strips/lines'

export interface CueInTime {
  readonly name: string
  /** s: when it begins, and until when it acts; nothing of one that waits and has not come. */
  readonly begins: number | undefined
  readonly until: number | undefined
  /** s, as its sentence says: from the start, or from what it waits for. */
  readonly at: number
  /** s, of one that takes a time. */
  readonly over?: number
  readonly words: string
}

interface LaneInTime {
  readonly lane: Lane
  readonly label: string
  readonly cues: readonly CueInTime[]
  /** What comes just now from a person's hands is not moved. */
  readonly isFixed: boolean
}

interface CueLanesProps {
  /** Document path of the cues. */
  readonly path: string
  readonly lanes: readonly LaneInTime[]
  /** s */
  readonly end: number
}

/** px beside the lane: it stands under the strips. */
const [before, beside] = [stripMargin.left, stripMargin.left + stripMargin.right]
/** s: no duration is dragged shorter. */
const shortest = 0.05

type Slot = 'at' | 'over'

/** Cues along the time of a trial, a lane for each sort: dragged or stretched by tenths of a second, by hundredths with Shift, or by the arrow keys. */
export function CueLanes({ path, lanes, end }: CueLanesProps) {
  const box = useRef<HTMLDivElement>(null)
  const isFine = useShift()
  const sensors = useSensors(useSensor(PointerSensor))
  const all = lanes.flatMap(({ cues }) => cues)
  const moved = useRef<{ readonly name: string; readonly slot: Slot; readonly from: number }>(undefined)
  const move = (name: string, slot: Slot, value: number) =>
    setValue(`${path}.${name}.${slot}`, value, slot === 'at' ? 'Move a cue' : 'Stretch a cue')
  const least = (slot: Slot) => (slot === 'at' ? 0 : shortest)
  const draggedTo = (by: number) => {
    const { slot, from } = moved.current!
    const width = box.current!.getBoundingClientRect().width - beside
    const grain = isFine.current ? 0.01 : 0.1
    const raw = from + (by / width) * end
    return Number(Math.max(least(slot), Math.round(raw / grain) * grain).toFixed(2))
  }
  const byKey = (name: string, slot: Slot, value: number, event: React.KeyboardEvent) => {
    const direction = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (direction === 0) return
    event.preventDefault()
    event.stopPropagation()
    edit(move(name, slot, Number(Math.max(least(slot), value + direction * (event.shiftKey ? 1 : 0.1)).toFixed(2))))
  }
  return (
    <DndContext
      sensors={sensors}
      autoScroll={false}
      accessibility={{ announcements: told }}
      onDragStart={({ active }) => {
        const [name, slot] = String(active.id).split(' ') as [string, Slot]
        moved.current = { name, slot, from: all.find((one) => one.name === name)![slot]! }
      }}
      onDragMove={({ delta }) => preview(move(moved.current!.name, moved.current!.slot, draggedTo(delta.x)))}
      onDragEnd={({ delta }) => {
        const { name, slot, from } = moved.current!
        const value = draggedTo(delta.x)
        if (value === from) cancel()
        else edit(move(name, slot, value))
      }}
      onDragCancel={cancel}
    >
      <div ref={box}>
        {lanes.map((one) => (
          <OneLane key={one.lane} {...one} {...{ end, byKey }} />
        ))}
      </div>
    </DndContext>
  )
}

interface OneLaneProps extends LaneInTime {
  readonly end: number
  readonly byKey: (name: string, slot: Slot, value: number, event: React.KeyboardEvent) => void
}

function OneLane({ lane, label, cues, isFixed, end, byKey }: OneLaneProps) {
  const rows = labelRows(
    cues.map(({ begins = 0 }) => begins),
    end,
  )
  return (
    <svg className="w-full" height={22 + labelDrop(Math.max(0, ...rows))} aria-label={`${label} in time`}>
      <text x="0" y="18" fontSize="10" fill="var(--mist)">
        {label}
      </text>
      <line x1={before} x2="99%" y1="14" y2="14" stroke="var(--line-2)" />
      {cues.map((cue, i) => (
        <OneCue key={cue.name} {...{ cue, end, lane, isFixed, byKey }} row={rows[i]!} />
      ))}
    </svg>
  )
}

interface OneCueProps extends Pick<OneLaneProps, 'lane' | 'end' | 'isFixed' | 'byKey'> {
  readonly cue: CueInTime
  readonly row: number
}

/** Like a signal of its role: commands are asked, what comes from outside and what fails disturbs. */
const inks: Readonly<Record<Lane, string>> = {
  commands: 'var(--ink)',
  machine: 'var(--kelp)',
  disturbances: 'var(--plum)',
  faults: 'var(--plum)',
  hands: 'var(--ink)',
}

function OneCue({ cue: { name, begins, until, at, over, words }, end, lane, isFixed, row, byKey }: OneCueProps) {
  const hand = useDraggable({ id: `${name} at`, disabled: isFixed })
  const place = (t: number) => ({ transform: `translateX(calc(${before}px + (100% - ${beside}px) * ${t / end}))` })
  const ink = inks[lane]
  const lasts = begins === undefined || until === undefined ? 0 : Math.max(0, until - begins)
  const waits = begins === undefined
  return (
    <>
      {lasts > 0 && (
        <rect
          aria-hidden
          {...(lane === 'commands' ? { y: 13, height: 2, fillOpacity: 0.45 } : { y: 10, height: 8, fillOpacity: 0.22 })}
          fill={ink}
          style={{ ...place(begins!), width: `calc((100% - ${beside}px) * ${lasts / end})` }}
        />
      )}
      {over !== undefined && begins !== undefined && <Stretch {...{ name, at: begins + over, over, end, place, ink, byKey }} />}
      <g
        // the library speaks of elements of a page, and asks no more of them than where they are
        ref={(node) => hand.setNodeRef(node as unknown as HTMLElement | null)}
        role="slider"
        tabIndex={0}
        aria-label={`time of cue ${name}`}
        aria-valuenow={at}
        aria-valuetext={waits ? `${at} s after what it waits for` : `${at} s`}
        className="cursor-ew-resize touch-none"
        style={place(begins ?? 0)}
        {...hand.listeners}
        onKeyDown={(event) => !isFixed && byKey(name, 'at', at, event)}
      >
        <rect x="-8" y={2 + labelDrop(row)} width="60" height="20" fill="transparent" />
        {lane === 'machine' ? (
          <path
            d="M0 9 L5 14 L0 19 L-5 14 Z"
            fill={waits ? 'var(--chalk)' : ink}
            stroke={ink}
            strokeDasharray={waits ? '2 2' : 'none'}
          />
        ) : (
          <circle cy="14" r="4.5" fill="var(--chalk)" stroke={ink} strokeWidth="1.6" strokeDasharray={waits ? '2 2' : 'none'} />
        )}
        <text x="8" y={8 + labelDrop(row)} fontSize="11" fill={lane === 'commands' ? 'var(--ink)' : ink}>
          {waits ? `${words}, waits` : words}
        </text>
      </g>
    </>
  )
}

interface StretchProps extends Pick<OneLaneProps, 'end' | 'byKey'> {
  readonly name: string
  /** s: where it stands, and how long the cue takes. */
  readonly at: number
  readonly over: number
  readonly place: (t: number) => { readonly transform: string }
  readonly ink: string
}

/** The end of what a cue takes its time for. */
function Stretch({ name, at, over, end, place, ink, byKey }: StretchProps) {
  const hand = useDraggable({ id: `${name} over` })
  return (
    <g
      ref={(node) => hand.setNodeRef(node as unknown as HTMLElement | null)}
      role="slider"
      tabIndex={0}
      aria-label={`duration of cue ${name}`}
      aria-valuenow={over}
      aria-valuetext={`${over} s`}
      className="cursor-ew-resize touch-none"
      style={place(Math.min(at, end))}
      {...hand.listeners}
      onKeyDown={(event) => byKey(name, 'over', over, event)}
    >
      <rect x="-5" y="6" width="10" height="16" fill="transparent" />
      <line y1="9" y2="19" stroke={ink} strokeWidth="1.8" />
    </g>
  )
}

/** For whoever hears the page: the lane itself tells the time that a cue has. */
const told: Announcements = {
  onDragStart: ({ active }) => `Moving the cue ${String(active.id).split(' ')[0]}.`,
  onDragOver: () => undefined,
  onDragEnd: ({ active }) => `The cue ${String(active.id).split(' ')[0]} stands.`,
  onDragCancel: ({ active }) => `The cue ${String(active.id).split(' ')[0]} is back where it was.`,
}

/** Whether Shift is held down, for whoever asks while a hand moves. */
function useShift(): React.RefObject<boolean> {
  const isDown = useRef(false)
  useEffect(() => {
    const look = (event: KeyboardEvent) => (isDown.current = event.shiftKey)
    window.addEventListener('keydown', look)
    window.addEventListener('keyup', look)
    return () => {
      window.removeEventListener('keydown', look)
      window.removeEventListener('keyup', look)
    }
  }, [])
  return isDown
}
