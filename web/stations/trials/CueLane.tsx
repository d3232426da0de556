import { useEffect, useRef } from 'react'
import { DndContext, PointerSensor, useDraggable, useSensor, useSensors } from '@dnd-kit/core'
import type { Announcements } from '@dnd-kit/core'
import { setValue } from '../../state/edits'
import { cancel, edit, preview } from '../../state/project'
import { labelDrop, labelRows } from './cueLabels'
import { stripMargin } from './strips/lines'

export interface CueInTime {
  readonly name: string
  /** s */
  readonly at: number
  readonly words: string
}

interface CueLaneProps {
  /** Document path of the cues. */
  readonly path: string
  readonly cues: readonly CueInTime[]
  /** s */
  readonly end: number
}

/** px beside the lane: it stands under the strips. */
const [before, beside] = [stripMargin.left, stripMargin.left + stripMargin.right]

/** Cues along the time of a trial: dragged by tenths of a second, by hundredths with Shift, or moved by the arrow keys. */
export function CueLane({ path, cues, end }: CueLaneProps) {
  const lane = useRef<SVGSVGElement>(null)
  const isFine = useShift()
  const sensors = useSensors(useSensor(PointerSensor))
  const rows = labelRows(
    cues.map(({ at }) => at),
    end,
  )
  const began = useRef<number>(undefined)
  const move = (name: string, at: number) => setValue(`${path}.${name}.at`, at, 'Move a cue')
  const draggedTo = (by: number) => {
    const width = lane.current!.getBoundingClientRect().width - beside
    const grain = isFine.current ? 0.01 : 0.1
    const raw = began.current! + (by / width) * end
    return Number(Math.max(0, Math.round(raw / grain) * grain).toFixed(2))
  }
  const byKey = ({ name, at }: CueInTime, event: React.KeyboardEvent) => {
    const direction = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (direction === 0) return
    event.preventDefault()
    event.stopPropagation()
    edit(move(name, Number(Math.max(0, at + direction * (event.shiftKey ? 1 : 0.1)).toFixed(2))))
  }
  return (
    <DndContext
      sensors={sensors}
      autoScroll={false}
      accessibility={{ announcements: told }}
      onDragStart={({ active }) => (began.current = cues.find(({ name }) => name === active.id)?.at)}
      onDragMove={({ active, delta }) => preview(move(String(active.id), draggedTo(delta.x)))}
      onDragEnd={({ active, delta }) => {
        const at = draggedTo(delta.x)
        if (at === began.current) cancel()
        else edit(move(String(active.id), at))
      }}
      onDragCancel={cancel}
    >
      <svg ref={lane} className="w-full" height={22 + labelDrop(Math.max(0, ...rows))} aria-label="Cues in time">
        <line x1={before} x2="99%" y1="14" y2="14" stroke="var(--line-2)" />
        {cues.map((cue, i) => (
          <Cue key={cue.name} {...{ cue, end }} row={rows[i]!} onKeyDown={(event) => byKey(cue, event)} />
        ))}
      </svg>
    </DndContext>
  )
}

interface CueProps {
  readonly cue: CueInTime
  readonly end: number
  readonly row: number
  readonly onKeyDown: (event: React.KeyboardEvent) => void
}

function Cue({ cue: { name, at, words }, end, row, onKeyDown }: CueProps) {
  const { setNodeRef, listeners } = useDraggable({ id: name })
  return (
    <g
      // the library speaks of elements of a page, and asks no more of them than where they are
      ref={(node) => setNodeRef(node as unknown as HTMLElement | null)}
      role="slider"
      tabIndex={0}
      aria-label={`time of cue ${name}`}
      aria-valuenow={at}
      aria-valuetext={`${at} s`}
      className="cursor-ew-resize touch-none"
      style={{ transform: `translateX(calc(${before}px + (100% - ${beside}px) * ${at / end}))` }}
      {...listeners}
      onKeyDown={onKeyDown}
    >
      <rect x="-8" y={2 + labelDrop(row)} width="60" height="20" fill="transparent" />
      <circle cx="0" cy="14" r="4.5" fill="var(--chalk)" stroke="var(--ink)" strokeWidth="1.6" />
      <text x="8" y={10 + labelDrop(row)} fontSize="11" fill="var(--ink)">
        {words}
      </text>
    </g>
  )
}

/** For whoever hears the page: the lane itself tells the time that a cue has. */
const told: Announcements = {
  onDragStart: ({ active }) => `Moving the cue ${active.id}.`,
  onDragOver: () => undefined,
  onDragEnd: ({ active }) => `The cue ${active.id} stands.`,
  onDragCancel: ({ active }) => `The cue ${active.id} is back where it was.`,
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
