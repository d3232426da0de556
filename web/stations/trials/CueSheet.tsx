import { useMemo } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { isBodiless } from '@calm-hand/core/machine'
import {
  alterableSignals,
  cues as cueKinds,
  cueTimes,
  lanes,
  never,
  touchCue,
  trialDuration,
  withTouches,
} from '@calm-hand/core/simulation'
import type { Cue, Lane } from '@calm-hand/core/simulation'
import { AddMenu } from '../../frame/AddMenu'
import { useLive } from '../../state/live'
import { edit, useOpen } from '../../state/project'
import { CheckLane } from './CheckLane'
import { CueItem } from './CueItem'
import { CueLanes } from './CueLane'
import type { CueInTime } from './CueLane'
import { addCue } from './cueEdits'
import { cueWords } from './cueWords'
import type { TrialView } from './useTrialView'

interface CueSheetProps {
  readonly trial: string
  readonly view: TrialView
}

const laneNames = Object.keys(lanes) as readonly Lane[]

/** What happens in the trial: on lanes under the strips, where it can be dragged in time, and as sentences. */
export function CueSheet({ trial, view }: CueSheetProps) {
  const list = useOpen((project) => project.document.trials[trial]?.cues)
  const open = useOpen((project) => project.valid)
  // under a person's hands, with what they have touched up to now in place of what was kept
  const touches = useLive((live) => (view.isLive ? live.touches : undefined))
  const valid = useMemo(() => (touches === undefined ? open : withTouches(open, trial, touches)), [open, trial, touches])
  const cues = Object.entries(partsIn(touches === undefined ? list : valid.trials[trial]!.cues))
  const laneOf = (cue: Part) => findKind(cueKinds, cue)?.lane ?? 'commands'
  const end = trialDuration(valid.trials[trial] as never)
  return (
    <section className="border-t border-line px-3 pb-2 shrink-0" aria-label="Cue sheet">
      <div className="flex items-center gap-2 pt-1">
        <h3 className="grow">Cues</h3>
        <AddCue view={view} />
      </div>
      <CueLanes
        path={`trials.${trial}.cues`}
        end={end}
        lanes={laneNames
          .map((lane) => ({
            ...{ lane, label: lanes[lane], cues: inTime(valid, view, lane, cues, end) },
            isFixed: view.isLive && lane === 'hands',
          }))
          .filter(({ lane, cues: own }) => lane === 'commands' || own.length > 0)}
      />
      <CheckLane view={view} end={end} />
      {cues.length === 0 && <p className="note">Nothing happens to the machine. Add a cue.</p>}
      {laneNames.map((lane) => {
        const own = cues.filter(([, cue]) => laneOf(cue) === lane)
        if (own.length === 0) return null
        return (
          <div key={lane}>
            {cues.length > own.length && <h4 className="note pt-1">{lanes[lane]}</h4>}
            {lane === 'hands' && <TouchesTold view={view} count={own.length} />}
            <ul aria-label={lanes[lane]}>
              {told(own, lane, view).map(([name, cue]) => (
                <CueItem key={name} {...{ view, name, cue }} all={cues.map(([one]) => one)} />
              ))}
            </ul>
          </div>
        )
      })}
    </section>
  )
}

/** What of a lane is told in sentences: of touches the first, and none while they come. */
function told<One>(own: readonly One[], lane: Lane, { isLive }: TrialView): readonly One[] {
  if (lane !== 'hands') return own
  return isLive ? [] : own.slice(0, mostTouches)
}

/** Touches of hands that are shown as sentences: a run by hand has many. */
const mostTouches = 6

/** How many touches the trial keeps, and a way to be without them. */
function TouchesTold({ view, count }: { readonly view: TrialView; readonly count: number }) {
  if (view.isLive) return <p className="note">What was touched up to now.</p>
  return (
    <p className="note flex items-center gap-2">
      <span className="grow">
        {count} {count === 1 ? 'touch' : 'touches'}
        {count > mostTouches && `, of which the first ${mostTouches} are told`}. R runs them again, to the last bit.
      </span>
      <button
        className="button small"
        onClick={() => edit({ label: 'Remove the touches', apply: (document) => withTouches(document, view.trial, []) })}
      >
        Remove them
      </button>
    </p>
  )
}

/** Whether a cue of this kind could do anything to the machine. */
function suits(kind: Cue, view: TrialView, hasSignals: boolean): boolean {
  if (kind.name === touchCue.name) return false // hands make them
  if (kind.switchesTo !== undefined) return view.loops.length > 0
  if (kind.adds !== undefined || kind.slots.part !== undefined) return !isBodiless(view.machine)
  return kind.alters === undefined || hasSignals
}

function AddCue({ view }: { readonly view: TrialView }) {
  const document = useOpen((project) => project.valid)
  const hasSignals = alterableSignals(document, view.machineName).length > 0
  const groups = laneNames
    .map((lane) => ({
      label: lanes[lane],
      kinds: cueKinds.filter((kind) => kind.lane === lane && suits(kind, view, hasSignals)),
    }))
    .filter(({ kinds }) => kinds.length > 0)
  return <AddMenu label="Cue" groups={groups} onAdd={(kind) => edit(addCue(document, view, kind).change)} />
}

/** The cues of a lane with their times: as they came in the run that is shown, or by the clock. */
function inTime(
  document: Document,
  view: TrialView,
  lane: Lane,
  cues: readonly (readonly [string, Part])[],
  end: number,
): readonly CueInTime[] {
  const byClock = new Map(cueTimes(document.trials[view.trial]!).map((one) => [one.name, one]))
  const came = new Map((view.record?.cues ?? []).map((one) => [one.cue, one]))
  return cues.flatMap(([name, cue]): readonly CueInTime[] => {
    const kind = findKind(cueKinds, cue)
    const clock = byClock.get(name)
    if (kind?.lane !== lane || clock === undefined) return []
    const begins = clock.begins < never ? clock.begins : came.get(name)?.began
    const over = clock.over < never ? clock.over : came.get(name)?.over
    // a change or a fault acts until something ends it
    const stays = cue.until === undefined && (kind.changes !== undefined || kind.alters !== undefined)
    const last = kind.name === touchCue.name ? begins! + ((cue.points as readonly number[][]).at(-1)?.[0] ?? 0) : over
    const until = begins === undefined ? undefined : stays ? end : Math.min(last ?? end, end)
    return [
      {
        ...{ name, begins, until, at: cue.at as number, words: cueWords(document, view, kind, cue) },
        ...(typeof cue.over === 'number' ? { over: cue.over } : {}),
      },
    ]
  })
}
