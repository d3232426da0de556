import { Plus, X } from 'lucide-react'
import type { Part } from '@calm-hand/core/document'
import { blankPart } from '@calm-hand/core/kinds'
import { asCued, cuedPush } from '@calm-hand/core/control'
import { findHeld, findPush, pushesOf } from '@calm-hand/core/machine'
import { cues as cueKinds, trialDuration } from '@calm-hand/core/simulation'
import { ChoiceSlot, Sentence, SlotAt } from '../../sentence'
import { loopLabel } from '../../state/labels'
import { addPart, removePart, setValue } from '../../state/edits'
import { cancel, edit, preview, useOpen } from '../../state/project'
import { motionUnit, withUnit } from '../../units'
import { cueSays } from './useTrialView'
import type { TrialView } from './useTrialView'

interface CueSheetProps {
  readonly trial: string
  readonly view: TrialView
}

/** Cues as sentences, and on a lane under the strips, where they can be dragged in time. */
export function CueSheet({ trial, view }: CueSheetProps) {
  const part = useOpen((project) => project.document.trials[trial]) as unknown as {
    cues: Readonly<Record<string, Part>>
    after: number
  }
  const loops = useOpen((project) => project.document.loops)
  const path = `trials.${trial}.cues`
  const pushOf = (cue: Part) => findPush(view.machine, cuedPush(cue.loop as string) ?? '')
  const unitOf = (cue: Part) =>
    pushOf(cue)?.unit ?? findHeld(view.machine, loops[cue.loop as string]?.holds as string)?.unit ?? ''
  const nameOf = (cue: Part) => pushOf(cue)?.label ?? loopLabel({ loops }, cue.loop as string)
  const entries = Object.entries(part.cues)
  const valid = useOpen((project) => project.valid.trials[trial])
  const end = trialDuration(valid as never)
  const rows = labelRows(
    entries.map(([, cue]) => cue.at as number),
    end,
  )
  const add = () => {
    const key = ['rise', 'second', 'third', 'fourth', 'fifth', 'sixth'].find((name) => part.cues[name] === undefined)
    if (key === undefined) return
    // as far as the last one went: a lens floats by millimetres, a lifter by metres
    const last = entries.map(([, one]) => one).findLast(({ by }) => typeof by === 'number')
    const cue = {
      kind: 'stepCue',
      loop: (last?.loop as string | undefined) ?? firstTarget(view),
      at: Math.max(1, ...entries.map(([, one]) => (one.at as number) + 5)),
      by: (last?.by as number | undefined) ?? 0.5,
    }
    edit(addPart(`${path}.${key}`, cue, 'Add a cue'))
  }
  const drag = (key: string, at: number, event: React.PointerEvent<SVGGElement>) => {
    const target = event.currentTarget
    const width = target.ownerSVGElement!.getBoundingClientRect().width - 66
    target.setPointerCapture(event.pointerId)
    const startX = event.clientX
    let moved = at
    const move = (next: PointerEvent) => {
      const raw = at + ((next.clientX - startX) / width) * end
      const grain = next.shiftKey ? 0.01 : 0.1
      moved = Number(Math.max(0, Math.round(raw / grain) * grain).toFixed(2))
      preview(setValue(`${path}.${key}.at`, moved, 'Move a cue'))
    }
    const stop = () => {
      target.removeEventListener('pointermove', move)
      target.removeEventListener('pointerup', finish)
      window.removeEventListener('keydown', escape)
    }
    const finish = () => {
      stop()
      if (moved !== at) edit(setValue(`${path}.${key}.at`, moved, 'Move a cue'))
    }
    const escape = (pressed: KeyboardEvent) => {
      if (pressed.key !== 'Escape') return
      stop()
      cancel()
    }
    target.addEventListener('pointermove', move)
    target.addEventListener('pointerup', finish)
    window.addEventListener('keydown', escape)
  }
  const byKey = (key: string, at: number, event: React.KeyboardEvent) => {
    const direction = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (direction === 0) return
    event.preventDefault()
    event.stopPropagation()
    edit(setValue(`${path}.${key}.at`, Number(Math.max(0, at + direction * (event.shiftKey ? 1 : 0.1)).toFixed(2)), 'Move a cue'))
  }
  return (
    <section className="border-t border-line px-3 pb-2 shrink-0" aria-label="Cue sheet">
      <div className="flex items-center gap-2 pt-1">
        <h3 className="grow">Commands</h3>
        <button className="button small" onClick={add}>
          <Plus size={13} /> Cue
        </button>
      </div>
      <svg className="w-full" height={22 + labelDrop(Math.max(0, ...rows))} aria-label="Cues in time">
        <line x1="52" x2="99%" y1="14" y2="14" stroke="var(--line-2)" />
        {entries.map(([key, cue], i) => {
          const x = `calc(52px + (100% - 66px) * ${(cue.at as number) / end})`
          return (
            <g
              key={key}
              role="slider"
              tabIndex={0}
              aria-label={`time of cue ${key}`}
              aria-valuenow={cue.at as number}
              aria-valuetext={`${String(cue.at)} s`}
              className="cursor-ew-resize"
              style={{ transform: `translateX(${x})` }}
              onPointerDown={(event) => drag(key, cue.at as number, event)}
              onKeyDown={(event) => byKey(key, cue.at as number, event)}
            >
              <rect x="-8" y={2 + labelDrop(rows[i]!)} width="60" height="20" fill="transparent" />
              <circle cx="0" cy="14" r="4.5" fill="var(--chalk)" stroke="var(--ink)" strokeWidth="1.6" />
              <text x="8" y={10 + labelDrop(rows[i]!)} fontSize="11" fill="var(--ink)">
                {nameOf(cue)} {typeof cue.by !== 'number' ? labels[cue.kind] : signed(cue.by, motionUnit(unitOf(cue)))}
              </text>
            </g>
          )
        })}
      </svg>
      <ul>
        {entries.map(([key, cue]) => (
          <li key={key} className="flex items-start">
            <Sentence
              says={cueSays(cue.kind)}
              path={`${path}.${key}`}
              className="grow text-[13.5px] leading-[25px]"
              own={Object.fromEntries(
                Object.entries(unitsAfter).map(([slot, after]) => [
                  slot,
                  <SlotAt key={slot} path={`${path}.${key}.${slot}`} unit={motionUnit(`${unitOf(cue)}${after}`)} />,
                ]),
              )}
            />
            <KindOfCue path={`${path}.${key}`} cue={cue} />
            <button
              className="size-6 grid place-items-center text-mist"
              aria-label={`Remove cue ${key}`}
              onClick={() => edit(removePart(`${path}.${key}`, 'Remove a cue'))}
            >
              <X size={14} />
            </button>
          </li>
        ))}
        {entries.length === 0 && <p className="note">Nothing is asked of the machine. Add a cue.</p>}
      </ul>
    </section>
  )
}

/** What a first cue moves: a loop that follows cues, else the first push. */
function firstTarget({ held, machine }: TrialView): string {
  return held !== undefined && !held.isCommanded ? held.loop : asCued(pushesOf(machine)[0]?.name ?? '')
}

const rowHeight = 13
/** What keeps the second row clear of the circles. */
const belowCircles = 7
const labelDrop = (row: number) => (row === 0 ? 0 : belowCircles + rowHeight * row)
/** Share of the lane that a label takes. */
const labelShare = 0.2

/** The row of each label, so that those of cues close in time stand under each other. */
function labelRows(times: readonly number[], end: number): number[] {
  const taken: { at: number; row: number }[] = []
  return times.map((at) => {
    const near = taken.filter((one) => Math.abs(one.at - at) < labelShare * end).map(({ row }) => row)
    let row = 0
    while (near.includes(row)) row++
    taken.push({ at, row })
    return row
  })
}

const signed = (value: number, unit: string) => `${value >= 0 ? '+' : ''}${withUnit(value, unit, 3)}`

const labels = Object.fromEntries(cueKinds.map(({ name, label }) => [name, label]))

/** Slots in the unit of what is held, and what follows it. */
const unitsAfter = { by: '', speed: '/s', acceleration: '/s²', jerk: '/s³' } as const

/** Another course of the same command, keeping what fits. */
function KindOfCue({ path, cue }: { readonly path: string; readonly cue: Part }) {
  return (
    <span className="text-[12.5px] leading-[25px] px-2 whitespace-nowrap">
      <ChoiceSlot
        label="course of the cue"
        value={cue.kind}
        options={labels}
        onChoose={(kind) =>
          edit(
            setValue(
              path,
              blankPart(
                cueKinds.find(({ name }) => name === kind)!,
                cue,
              ),
              'Change a cue',
            ),
          )
        }
      />
    </span>
  )
}
