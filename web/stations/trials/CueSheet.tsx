import { Plus, X } from 'lucide-react'
import type { Part } from '@calm-hand/core/document'
import { blankPart } from '@calm-hand/core/kinds'
import { asCued, cuedPush } from '@calm-hand/core/control'
import { findHeld, findPush, pushesOf } from '@calm-hand/core/machine'
import { cues as cueKinds, trialDuration } from '@calm-hand/core/simulation'
import { ChoiceField, Sentence, SlotAt } from '../../sentence'
import { loopLabel } from '../../state/labels'
import { addPart, removePart, setValue } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { motionUnit, withUnit } from '../../units'
import { CheckLane } from './CheckLane'
import { CueLane } from './CueLane'
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
  return (
    <section className="border-t border-line px-3 pb-2 shrink-0" aria-label="Cue sheet">
      <div className="flex items-center gap-2 pt-1">
        <h3 className="grow">Commands</h3>
        <button className="button small" onClick={add}>
          <Plus size={13} /> Cue
        </button>
      </div>
      <CueLane
        path={path}
        end={end}
        cues={entries.map(([name, cue]) => ({
          name,
          at: cue.at as number,
          words: `${nameOf(cue)} ${typeof cue.by !== 'number' ? labels[cue.kind] : signed(cue.by, motionUnit(unitOf(cue)))}`,
        }))}
      />
      <CheckLane view={view} end={end} />
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

const signed = (value: number, unit: string) => `${value >= 0 ? '+' : ''}${withUnit(value, unit, 3)}`

const labels = Object.fromEntries(cueKinds.map(({ name, label }) => [name, label]))

/** Slots in the unit of what is held, and what follows it. */
const unitsAfter = { by: '', speed: '/s', acceleration: '/s²', jerk: '/s³' } as const

/** Another course of the same command, keeping what fits. */
function KindOfCue({ path, cue }: { readonly path: string; readonly cue: Part }) {
  return (
    <span className="text-[12.5px] leading-[25px] px-2 whitespace-nowrap">
      <ChoiceField
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
