import { useEffect, useLayoutEffect, useMemo, useState } from 'react'
import { Plus } from 'lucide-react'
import { useNavigate, useParams, useSearchParams } from 'react-router'
import { trialDuration } from '@calm-hand/core/simulation'
import { MachineSwitch } from '../../frame/MachineSwitch'
import { PanelBoundary } from '../../frame/PanelBoundary'
import { ThreePanels } from '../../frame/ThreePanels'
import { offerActions } from '../../frame/actions'
import { useAskedPlace } from '../../frame/places'
import { comeCloser, setCursor, setEnd, togglePlay, useClock } from '../../state/clock'
import { chooseMachine, useMachineName } from '../../state/chosenMachine'
import { forgetHands, goOnLive, letGoOfHands, pauseLive, takeByHand, useLive } from '../../state/live'
import { edit, useOpen } from '../../state/project'
import { runNow } from '../../state/runNow'
import { stopRun } from '../../state/runs'
import { toggled } from '../../state/toggled'
import { EmptyStation } from '../EmptyStation'
import { Below } from './Below'
import { Comparing } from './compare/Comparing'
import { CueSheet } from './CueSheet'
import { LiveRail } from './hands/LiveRail'
import { RunBar } from './RunBar'
import { RunsPage } from './runs/RunsPage'
import { Strips } from './strips/Strips'
import { TimeRail } from './TimeRail'
import { TrialIndex } from './TrialIndex'
import { TrialStage } from './stage/TrialStage'
import { addGentleTrial, copyTrial, removeTrial } from './trialEdits'
import type { Added } from '../machine/partEdits'
import { cueTimes, pinLatest, useTrialView } from './useTrialView'

/** What it must do, in 3D: trial as sentences, flight, strips, cues, all on one clock. */
export function TrialsStation() {
  const { trial: asked } = useParams()
  const document = useOpen((open) => open.valid)
  const problems = useOpen((open) => open.problems.length)
  const machine = useMachineName()
  // one that was just removed may still be in the last document without problems
  const there = useOpen((open) => Object.keys(open.document.trials).join(' '))
  const names = Object.keys(document.trials).filter((name) => there.split(' ').includes(name))
  const trial = names.find((one) => one === asked) ?? names.find((one) => document.trials[one]!.machine === machine)
  if (trial !== undefined) return <Trials trial={trial} />
  const action = (
    <button
      className="button"
      disabled={problems > 0}
      onClick={() => void addGentleTrial(document, machine).then(({ change }) => edit(change))}
    >
      <Plus size={14} /> Trial
    </button>
  )
  const hasLoop = Object.values(document.loops).some((loop) => loop.machine === machine)
  return (
    <>
      <MachineSwitch />
      <EmptyStation title="No trial yet" action={action}>
        {hasLoop
          ? 'A trial runs the whole machine with its loops from where it rests, and asks them for something.'
          : 'A trial runs the whole machine from where it rests. It has no loop yet, so cues move its pushes themselves.'}
      </EmptyStation>
    </>
  )
}

/** The ends of the address under which a trial stands beside its records, and its runs are told. */
const [comparing, accounting] = ['compare', 'runs']

function pauseOrGoOn(): void {
  if (useLive.getState().phase.kind === 'going') pauseLive()
  else goOnLive()
}

function Trials({ trial }: { readonly trial: string }) {
  const { project, look } = useParams()
  useAskedPlace()
  const navigate = useNavigate()
  const document = useOpen((open) => open.valid)
  const machine = document.trials[trial]!.machine
  useEffect(() => chooseMachine(project!, machine), [project, machine])
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set())
  const [search, setSearch] = useSearchParams()
  const view = useTrialView(document, trial, hidden, search.get('watch') ?? undefined)
  const watch = (loop: string) => setSearch({ watch: loop }, { replace: true })
  const end = useMemo(() => trialDuration(document.trials[trial] as never), [document, trial])

  const { isLive } = view

  useEffect(() => setEnd(end), [end])
  // what is not seen is not in hand
  useEffect(() => () => pauseLive('Another page was looked at.'), [trial])
  useEffect(() => {
    const hidden = () => window.document.hidden && pauseLive('The page was hidden.')
    window.document.addEventListener('visibilitychange', hidden)
    return () => window.document.removeEventListener('visibilitychange', hidden)
  }, [])
  useLayoutEffect(() => {
    const jump = (direction: 1 | -1) => {
      const times = [0, ...cueTimes(view.clocked, trial)]
      const { cursor } = useClock.getState()
      const next = direction === 1 ? times.find((t) => t > cursor + 1e-6) : times.findLast((t) => t < cursor - 1e-6)
      if (next !== undefined) setCursor(next)
    }
    return offerActions('trials', [
      { name: 'Run the trial', keys: 'R', group: 'Trials', does: () => void runNow(project!, trial) },
      { name: 'Stop the run, or forget the hands', keys: 'X', group: 'Trials', does: isLive ? forgetHands : stopRun },
      {
        name: isLive ? 'Let go of the trial' : 'Take the trial by hand',
        ...{ keys: 'H', group: 'Trials', does: () => void (isLive ? letGoOfHands() : takeByHand(project!, trial)) },
      },
      { name: 'Pin the run', keys: 'P', group: 'Trials', does: () => pinLatest(trial) },
      { name: 'Play or pause', keys: 'Space', group: 'Trials', does: isLive ? pauseOrGoOn : togglePlay },
      {
        name: look === comparing ? 'Back to the trial' : 'Compare with a measured record',
        ...{ keys: 'C', group: 'Trials' },
        does: () => void navigate(`/${project}/trials/${trial}${look === comparing ? '' : `/${comparing}`}`),
      },
      {
        name: 'Strips closer about the cursor',
        keys: '+',
        group: 'Trials',
        does: () => comeCloser(2, useClock.getState().cursor),
      },
      { name: 'Strips farther away', keys: '-', group: 'Trials', does: () => comeCloser(0.5, useClock.getState().cursor) },
      {
        name: look === accounting ? 'Back to the trial' : 'Runs of the trial',
        ...{ keys: 'K', group: 'Trials' },
        does: () => void navigate(`/${project}/trials/${trial}${look === accounting ? '' : `/${accounting}`}`),
      },
      { name: 'Next cue', keys: 'N', group: 'Trials', does: () => jump(1) },
      { name: 'Previous cue', keys: 'B', group: 'Trials', does: () => jump(-1) },
    ])
  }, [project, view.clocked, trial, isLive, look, navigate])

  const choose = (name: string) => void (name !== trial && navigate(`/${project}/trials/${name}`))
  const take = ({ name, change }: Added) => {
    edit(change)
    choose(name)
  }
  const remove = () => {
    const names = Object.keys(document.trials).filter((one) => document.trials[one]!.machine === machine)
    const next = names[names.indexOf(trial) + 1] ?? names[names.indexOf(trial) - 1]
    edit(removeTrial(document, trial))
    if (next !== undefined) choose(next)
  }
  const toggle = (letter: string) => setHidden((now) => toggled(now, letter))
  if (look === accounting) return <RunsPage view={view} projectId={project!} />
  if (look === comparing) return <Comparing view={view} projectId={project!} />
  return (
    <div className="h-full grid grid-rows-[1fr_44px]">
      <ThreePanels
        name="trials"
        widths={[272, 520]}
        index={
          <TrialIndex
            trial={trial}
            view={view}
            hidden={hidden}
            onToggle={toggle}
            onChoose={choose}
            onMachine={() => void navigate(`/${project}/trials`)}
            onAdd={() => void addGentleTrial(document, machine, view.held?.loop).then(take)}
            onCopy={() => take(copyTrial(document, trial))}
            onRemove={remove}
          />
        }
        stage={
          <div className="h-full grid grid-rows-[auto_1fr_auto] grid-cols-[minmax(0,1fr)] bg-chalk min-h-0">
            <RunBar trial={trial} view={view} projectId={project!} />
            <PanelBoundary name="The 3D view">
              <TrialStage view={view} />
            </PanelBoundary>
            <Below view={view} projectId={project!} />
          </div>
        }
        card={
          <PanelBoundary name="The strips">
            <Strips view={view} onWatch={watch} />
            <CueSheet trial={trial} view={view} />
          </PanelBoundary>
        }
      />
      {view.isLive ? <LiveRail /> : <TimeRail trial={trial} view={view} />}
    </div>
  )
}
