import { Download, Hand, Pin, Play, Square } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { Fragment, useEffect, useState } from 'react'
import { recordToCsv } from '@calm-hand/core/formats'
import type { CsvAngles } from '@calm-hand/core/formats'
import type { LimitHit, Record as RunRecord } from '@calm-hand/core/simulation'
import { menuAction } from '../../frame/menuAction'
import { ProblemItem } from '../../frame/ProblemItem'
import { download, fileNameOf } from '../../state/download'
import { useOpen } from '../../state/project'
import { isFollowing } from '../../state/following'
import { forgetHands, letGoOfHands, takeByHand, useInHand, useLive } from '../../state/live'
import { runNow } from '../../state/runNow'
import { stopRun, useRuns } from '../../state/runs'
import { motionUnit, withUnit } from '../../units'
import { pinLatest } from './useTrialView'
import type { TrialView } from './useTrialView'

interface RunBarProps {
  readonly trial: string
  readonly view: TrialView
  readonly projectId: string
}

/** Title, run, stop, pin, CSV; and what the last run says of itself. */
export function RunBar({ trial, view, projectId }: RunBarProps) {
  const document = useOpen((project) => project.valid)
  const problems = useOpen((project) => project.problems.length)
  const state = useRuns((runs) => runs.state)
  const took = useRuns((runs) => runs.took)
  const { record, stale } = view
  // what is over at once is not told: it would only flicker
  const running = useLasting(state.kind === 'running', shownAfterMs)
  const inHand = useInHand()
  const other = inHand === undefined || inHand === trial ? undefined : String(document.trials[inHand]?.title ?? inHand)
  const { title } = document.trials[trial] as unknown as { title: string }
  const isFixed = document.trials[trial]!.method === 'fixed'
  return (
    <div className="px-4 pt-2.5 pb-2 border-b border-line">
      <div className="flex items-center gap-1.5">
        <h2 className="grow min-w-0 text-[17px] truncate" title={title}>
          {title}
        </h2>
        {view.isLive ? (
          <Fragment key="in hand">
            <button className="button main" onClick={() => void letGoOfHands()}>
              <Hand size={14} /> Let go <span className="key">H</span>
            </button>
            <button className="button" onClick={forgetHands}>
              <Square size={13} /> Forget <span className="key">X</span>
            </button>
          </Fragment>
        ) : (
          <Fragment key="runs">
            {/* it stays while a run that began by itself is under way: under a hand that comes to press it nothing else appears */}
            <button className="button main" onClick={() => void runNow(projectId, trial)}>
              <Play size={14} /> Run <span className="key">R</span>
            </button>
            <button
              className="button"
              disabled={other !== undefined}
              title={other === undefined ? undefined : `${other} is in hand: let it go first`}
              onClick={() => void takeByHand(projectId, trial)}
            >
              <Hand size={14} /> By hand <span className="key">H</span>
            </button>
          </Fragment>
        )}
        <button
          className="button"
          aria-label="Pin"
          title="Pin this run"
          disabled={record === undefined || view.isLive}
          onClick={() => pinLatest(trial)}
        >
          <Pin size={14} /> <span className="key">P</span>
        </button>
        <DropdownMenu.Root>
          <DropdownMenu.Trigger asChild>
            <button
              className="button !px-2"
              aria-label="Save the run as CSV"
              title="Save the run as CSV"
              disabled={record === undefined}
            >
              <Download size={15} />
            </button>
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content className="popover z-40 p-1" align="end">
              {angleChoices.map((angles) => (
                <DropdownMenu.Item
                  key={angles}
                  className={menuAction}
                  onSelect={() => download(`${fileNameOf(title)}.csv`, recordToCsv(record!, angles), 'text/csv')}
                >
                  CSV, angles in {angles}
                </DropdownMenu.Item>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      </div>
      <div className="note pt-1" role="status">
        {view.isLive && <LiveTold />}
        {running && (
          <span className="flex items-center gap-2">
            Running{' '}
            <progress
              className="h-1.5 w-40 accent-kelp"
              value={state.kind === 'running' ? state.share : 1}
              max={1}
              aria-label="Run progress"
            />
            <button className="button small" onClick={stopRun}>
              <Square size={11} /> Stop <span className="key">X</span>
            </button>
          </span>
        )}
        {other !== undefined && <span className="text-ochre-text">“{other}” is in hand, and waits there. </span>}
        {!running && !view.isLive && record === undefined && 'Not run yet. R runs it.'}
        {!running && !view.isLive && record !== undefined && (
          <>
            {record.ending.kind === 'ended' && !stale && (
              <span className="text-coral-text">A check ended it at {record.ending.at.toFixed(2)} s. </span>
            )}
            {(record.ending.kind === 'finished' || record.ending.kind === 'ended') && !stale && (
              <span data-testid="run-state">
                {view.end.toFixed(1)} s{took === undefined ? '' : ` in ${(took.run / 1000).toFixed(2)} s`}, {layersOn(view)}
                {stepsTold(record)}
                {took !== undefined && !isFollowing(took) && ', too long to go along with a hand'}
              </span>
            )}
            {stale && <span className="text-ochre-text">Older than the loops or the trial. R runs it again.</span>}
          </>
        )}
      </div>
      {problems > 0 && (
        <p className="finding border-coral mt-1">
          The machine or the trial has {problems === 1 ? 'a problem' : `${problems} problems`}: runs use the last state without
          one.
        </p>
      )}
      <LiveRefused trial={trial} />
      {state.kind === 'refused' &&
        state.problems.map((problem) => <ProblemItem key={problem.where + problem.what} problem={problem} />)}
      {state.kind === 'failed' && (
        <p role="alert" className="finding border-coral mt-1">
          The run broke off: {state.what} Run it again.
        </p>
      )}
      {!running && record?.accuracy !== undefined && record.accuracy.share > seen && (
        <p className="finding border-ochre mt-1">
          <b className="font-semibold text-ochre-text">This answer hangs on its steps:</b> with others {record.accuracy.label}{' '}
          differs by {Math.round(100 * record.accuracy.share)} % of what it moves through.{' '}
          {isFixed
            ? 'Let the steps be chosen.'
            : 'What sticks, switches or turns over hardly repeats: read it as one of many such runs.'}
        </p>
      )}
      {!running && record?.limits !== undefined && record.limits.length > 0 && <Limits hits={record.limits} />}
      {record?.ending.kind === 'diverged' && (
        <p role="alert" className="finding border-coral mt-1">
          <b className="font-semibold text-coral-text">Diverged at {record.ending.at.toFixed(3)} s.</b> The state{' '}
          <span className="number">{record.ending.state}</span> reached{' '}
          <span className="number">{record.ending.value.toPrecision(4)}</span>. The record up to there is kept.{' '}
          {record.ending.why ?? 'Run it again to see why.'}
        </p>
      )}
    </div>
  )
}

/** What keeps a trial from being taken by hand. */
function LiveRefused({ trial }: { readonly trial: string }) {
  const phase = useLive((live) => (live.trial === trial ? live.phase : undefined))
  if (phase?.kind !== 'refused') return null
  return phase.problems.map((problem) => <ProblemItem key={problem.where + problem.what} problem={problem} />)
}

/** How a run by hand goes. */
function LiveTold() {
  const phase = useLive((live) => live.phase)
  switch (phase.kind) {
    case 'readying':
      return 'Getting ready.'
    case 'paused':
      return <>Waits{phase.why === undefined ? '' : `. ${phase.why}`}</>
    case 'over':
      return `${phase.why} Let go to keep what was touched, or forget it.`
    default:
      return 'By hand. Let go, and every touch is kept as a cue.'
  }
}

/** ms: a run that takes longer shows how far it is. */
const shownAfterMs = 300

/** Whether something has been so for some time. */
function useLasting(is: boolean, ms: number): boolean {
  const [since, setSince] = useState(false)
  useEffect(() => {
    if (!is) return
    const timer = window.setTimeout(() => setSince(true), ms)
    return () => {
      window.clearTimeout(timer)
      setSince(false)
    }
  }, [is, ms])
  return is && since
}

const angleChoices: readonly CsvAngles[] = ['degrees', 'radians']

/** More of them in a line would hide the rest of the page. */
const mostTold = 3

/** What limited the run, in the order in which it came. */
function Limits({ hits }: { readonly hits: readonly LimitHit[] }) {
  const inOrder = [...hits].sort((a, b) => a.at - b.at)
  return (
    <div className="finding border-ochre mt-1" aria-label="What limited it">
      {inOrder.slice(0, mostTold).map((hit) => (
        <p key={`${hit.sort} ${hit.name}`}>
          <b className="font-semibold text-ochre-text">{limitTold(hit)}</b>
          {hit.sort !== 'unbalanced' && ` from ${hit.at.toFixed(2)} s, for ${hit.during.toFixed(2)} s in all.`}
        </p>
      ))}
      {inOrder.length > mostTold && <p className="note">And {inOrder.length - mostTold} more.</p>}
    </div>
  )
}

function limitTold({ sort, label, limit, farthest, ...hit }: LimitHit): string {
  // shafts of drives turn too fast for degrees
  const unit = sort === 'drive' ? hit.unit : motionUnit(hit.unit)
  const isMany = / more$/.test(label)
  const [end, far] = [withUnit(limit, unit, 3), withUnit(farthest, unit, 3)]
  if (sort === 'unbalanced') return `Nothing balances ${label} where it starts: it is let go there.`
  if (sort === 'touch') return `${label} touched what stands around it`
  if (sort === 'stop') return `${label} reached its stop at ${end}, and got to ${far},`
  if (sort === 'drive')
    return farthest === limit || Math.abs(farthest) <= Math.abs(limit)
      ? `${label} gave ${isMany ? 'their' : 'its'} most, ${end},`
      : `${label} ${isMany ? 'were' : 'was'} asked for up to ${far}, and ${isMany ? 'give' : 'gives'} at most ${end},`
  return `${label} was below the ground, by up to ${withUnit(limit - farthest, unit, 3)},`
}

/** A share of what a signal moves through that nobody would see on a strip. */
const seen = 0.01

/** How far the run hangs on its steps. */
function stepsTold({ accuracy }: RunRecord): string {
  if (accuracy === undefined) return ''
  return `, steps good to ${accuracy.share.toExponential(0)}`
}

/** How many of the layers that the page lists were on in the run. */
function layersOn({ layers, record }: TrialView): string {
  const on = layers.filter(({ name }) => record?.layers.includes(name)).length
  return on === 1 ? '1 layer on' : `${on} layers on`
}
