import { useMemo } from 'react'
import { gapAsked } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { useAnswer } from '../../../compute'
import { ProblemItem } from '../../../frame/ProblemItem'
import { ChoiceField, Sentence } from '../../../sentence'
import { setValue } from '../../../state/edits'
import { cancelGap, gapKey, ofSignal, useGap, workOutGap } from '../../../state/gap'
import type { GapRuns } from '../../../state/gap'
import { edit, lookedAt, useOpen } from '../../../state/project'
import { signalUnit, withUnit } from '../../../units'
import { firstWindow } from '../firstWindow'
import type { SignalOverTime } from '../firstWindow'
import type { TrialView } from '../useTrialView'
import { Working } from '../Working'
import { GapShares } from './GapShares'

interface GapSectionProps {
  readonly view: TrialView
  readonly projectId: string
}

/** Why simulation and prediction differ: of a signal over a window, the share of everything that only one of them has. */
export function GapSection({ view, projectId }: GapSectionProps) {
  const { trial, record } = view
  const document = useOpen((project) => project.valid)
  const gap = useGap()
  const state = gap.trial === trial ? gap.state : { kind: 'none' as const }
  const found = state.kind === 'done' ? state.found : undefined
  const isOlder = record === undefined || view.stale || gap.key !== gapKey(document, trial, record)
  const begin = async () => {
    if (document.trials[trial]!.gap === undefined)
      edit(setValue(`trials.${trial}.gap`, { kind: gapAsked.name, ...firstWindow(view) }, 'Ask about the gap'))
    const project = await lookedAt(projectId)
    if (project !== undefined && record !== undefined) await workOutGap(project.valid, trial, record)
  }
  return (
    <section className="border-t border-line px-4 pt-2 pb-1 overflow-auto max-h-[286px]" aria-label="Account for the gap">
      <div className="flex items-baseline gap-3">
        <h3>Account for the gap</h3>
        <span className="note grow text-right">{found !== undefined && howFound(found)}</span>
        {state.kind !== 'working' && (found === undefined || isOlder) && (
          <button className="button small" disabled={record === undefined || view.stale} onClick={() => void begin()}>
            {found === undefined ? 'Work it out' : 'Work it out anew'}
          </button>
        )}
      </div>
      {state.kind === 'working' && (
        <Working
          words={state.all === 0 ? 'Getting ready' : `${state.done} of ${state.all} runs`}
          share={state.all === 0 ? 0 : state.done / state.all}
          secondsLeft={state.secondsLeft}
          onCancel={cancelGap}
        />
      )}
      {state.kind === 'refused' && state.problems.map((problem) => <ProblemItem key={problem.what} problem={problem} />)}
      {state.kind === 'failed' && (
        <p role="alert" className="finding border-coral">
          The account broke off: {state.what} Work it out again.
        </p>
      )}
      {state.kind === 'none' && <p className="note pb-1">{whatItIs(record, view.stale)}</p>}
      {found !== undefined && isOlder && (
        <p className="finding border-ochre">Older than the run that is shown: it is of the one before.</p>
      )}
      {found !== undefined && <Shared view={view} found={found} gapKey={gap.key} />}
    </section>
  )
}

interface SharedProps {
  readonly view: TrialView
  readonly found: GapRuns
  readonly gapKey: string
}

function Shared({ view, found, gapKey: key }: SharedProps) {
  const { trial } = view
  const document = useOpen((project) => project.valid)
  const { signal, from, to } = (document.trials[trial]!.gap ?? firstWindow(view)) as SignalOverTime
  const one = useMemo(() => ofSignal(found, signal), [found, signal])
  const { answer } = useAnswer('gapShares', document, [one.plan, one.runs, signal, from, to], {
    ...{ subject: trial, key: `${key} ${signal} ${from} ${to}` },
  })
  const options = Object.fromEntries(found.plan.signals.map(({ name, label }) => [name, label]))
  const path = `trials.${trial}.gap`
  const choose = (next: string) => edit(setValue(`${path}.signal`, next, 'Set signal of the gap'))
  const account = answer?.kind === 'done' ? answer.value : undefined
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-1.5">
        <Sentence
          className="text-[13.5px] leading-[26px]"
          says={gapAsked.says}
          path={path}
          own={{ signal: <ChoiceField label="signal" value={signal} options={options} onChoose={choose} /> }}
        />
        {account !== undefined && (
          <p className="text-[13.5px] leading-[26px]">
            prediction and simulation differ by{' '}
            <b className="number font-medium">{withUnit(account.whole, signalUnit(account.signal), 3)}</b> rms.
          </p>
        )}
      </div>
      {answer?.kind === 'refused' && answer.problems.map((problem) => <ProblemItem key={problem.what} problem={problem} />)}
      {account !== undefined && <GapShares view={view} plan={found.plan} account={account} />}
    </>
  )
}

function howFound({ plan, runs, seconds }: GapRuns): string {
  return `${plan.orders === undefined ? 'exact' : 'sampled'} shares, ${runs.length} runs, ${seconds.toFixed(seconds < 10 ? 1 : 0)} s`
}

function whatItIs(record: RunRecord | undefined, stale: boolean): string {
  if (record === undefined) return 'Run the trial first (R): then this tells why it differs from the prediction.'
  if (stale) return 'Run the trial again first (R): the run that is shown is older than the loops or the trial.'
  return 'Runs the trial with and without each realism layer, limit and happening, and tells the share of each in the difference.'
}
