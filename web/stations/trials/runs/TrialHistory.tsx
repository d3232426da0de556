import { partsIn } from '@calm-hand/core/document'
import { checks as checkKinds } from '@calm-hand/core/simulation'
import { useAnswer } from '../../../compute'
import { ChangeList } from '../../../frame/kept/ChangeList'
import { momentExactly } from '../../../frame/kept/words'
import { useMade } from '../../../state/kept'
import { useOpen } from '../../../state/project'
import type { KeptRun } from '../../../state/server'
import { partWords } from '../../partWords'
import type { TrialView } from '../useTrialView'
import { marginWords } from './findRuns'
import { VerdictMark } from './VerdictMark'

interface TrialHistoryProps {
  readonly projectId: string
  readonly view: TrialView
  /** The newest first. */
  readonly runs: readonly KeptRun[]
  readonly onChoose: (hash: string) => void
}

/** What made more runs than this is not asked for at once. */
const mostTold = 12

/** How the checks of a trial came out over the designs that were tried, each with what changed since the one before. */
export function TrialHistory({ projectId, view, runs, onChoose }: TrialHistoryProps) {
  const document = useOpen((project) => project.valid)
  const checks = partsIn(document.trials[view.trial]!.checks)
  const keys = [...new Set(runs.flatMap(({ verdicts }) => (verdicts ?? []).map(({ check }) => check)))]
  return (
    <section className="section" aria-label="History of the trial">
      <h3>What was tried</h3>
      {keys.length > 0 && (
        <ol className="pt-1 text-[12.5px] leading-[20px]" aria-label="Its checks">
          {keys.map((key, i) => (
            <li key={key} className="flex gap-2">
              <b className="number font-medium w-4 shrink-0">{i + 1}</b>
              <span className="grow">
                {partWords(document, { trial: view.trial }, checkKinds, checks[key]) ?? `${key} (no check any more)`}
              </span>
            </li>
          ))}
        </ol>
      )}
      {runs.length === 0 && <p className="note pt-1">Nothing yet: each run of the trial is a line here.</p>}
      <ol className="pt-2" aria-label="Runs of the trial">
        {runs.slice(0, mostTold).map((run, i) => (
          <li key={run.hash} className="border-t border-line py-1.5">
            <button className="w-full text-left flex items-baseline gap-2" onClick={() => onChoose(run.hash)}>
              <b className="font-semibold grow truncate">{run.name ?? momentExactly(run.madeAt)}</b>
              <span className="flex gap-2 text-[12.5px]">
                {keys.map((key, place) => {
                  const verdict = run.verdicts?.find(({ check }) => check === key)
                  return (
                    <span key={key} className="number" title={verdict === undefined ? 'not looked at' : marginWords(verdict)}>
                      {place + 1}
                      {verdict === undefined ? '·' : <VerdictMark verdict={verdict} />}
                    </span>
                  )
                })}
              </span>
            </button>
            {runs[i + 1] !== undefined && <SinceBefore {...{ projectId, run }} before={runs[i + 1]!} />}
          </li>
        ))}
      </ol>
      {runs.length > mostTold && <p className="note">And {runs.length - mostTold} earlier ones.</p>}
    </section>
  )
}

interface SinceBeforeProps {
  readonly projectId: string
  readonly run: KeptRun
  readonly before: KeptRun
}

/** What changed of the document between two runs. */
function SinceBefore({ projectId, run, before }: SinceBeforeProps) {
  const { data: now } = useMade(projectId, run)
  const { data: then } = useMade(projectId, before)
  const present = useOpen((project) => project.valid)
  const { answer } = useAnswer('changed', now ?? present, now === undefined || then === undefined ? undefined : [then], {
    ...{ subject: run.hash, lane: 'side', rank: 2, key: `${run.hash} ${before.hash}` },
  })
  if (answer === undefined) return null
  return <ChangeList changes={answer} none="The same document." most={4} />
}
