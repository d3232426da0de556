import { useEffect, useState } from 'react'
import { ArrowLeft } from 'lucide-react'
import { useNavigate, useSearchParams } from 'react-router'
import { PanelBoundary } from '../../../frame/PanelBoundary'
import { ThreePanels } from '../../../frame/ThreePanels'
import { momentExactly } from '../../../frame/kept/words'
import { askAnew, useKeptRuns } from '../../../state/kept'
import { useOutbox } from '../../../state/outbox'
import { useOpen } from '../../../state/project'
import type { TrialView } from '../useTrialView'
import { foundRuns, newestOfEach, staysBecause, verdictWords } from './findRuns'
import { RunPage } from './RunPage'
import { TrialHistory } from './TrialHistory'

interface RunsPageProps {
  readonly view: TrialView
  readonly projectId: string
}

/** The account of runs: which are kept and why, what made each, and how the checks of the trial came out over what was tried. */
export function RunsPage({ view, projectId }: RunsPageProps) {
  const document = useOpen((project) => project.document)
  const waiting = useOutbox((outbox) => outbox.waiting)
  const { data: all = [], error } = useKeptRuns(projectId)
  // what has just come to the server is told too
  useEffect(() => void askAnew(), [waiting])
  const [search, setSearch] = useSearchParams()
  const [asked, setAsked] = useState('')
  const [whole, setWhole] = useState(false)
  const navigate = useNavigate()
  const titleOf = (trial: string) => document.trials[trial]?.title ?? `${trial} (removed)`
  const mine = whole ? all : all.filter(({ trial }) => trial === view.trial)
  const found = foundRuns(mine, asked, titleOf)
  const pinned = new Map(Object.entries(document.tray).map(([letter, pin]) => [pin.run, letter]))
  const newest = newestOfEach(all)
  const chosen = all.find(({ hash }) => hash === search.get('run')) ?? found[0]
  const stays = (run: typeof chosen) => (run === undefined ? undefined : staysBecause(run, pinned, newest))
  return (
    <ThreePanels
      name="runs"
      widths={[320, 400]}
      index={
        <>
          <div className="section flex items-baseline gap-2">
            <h2 className="grow truncate">Runs of {titleOf(view.trial)}</h2>
            <button
              className="note underline flex items-center gap-1 whitespace-nowrap"
              onClick={() => void navigate(`/${projectId}/trials/${view.trial}`)}
            >
              <ArrowLeft size={12} /> Back to the trial
            </button>
          </div>
          <section className="section">
            <input
              className="w-full h-9 px-2 border border-line-2 rounded-md bg-transparent"
              placeholder="Find: a name, a tag, fails, 2 Dec"
              aria-label="Find runs"
              value={asked}
              onChange={(event) => setAsked(event.target.value)}
            />
            <label className="flex items-center gap-1.5 pt-1.5 text-[12.5px]">
              <input
                type="checkbox"
                className="accent-kelp"
                checked={whole}
                onChange={(event) => setWhole(event.target.checked)}
              />
              of all trials of the project
            </label>
            {error !== null && <p role="alert">{error.message}</p>}
            <ul className="pt-2" aria-label="Kept runs">
              {found.map((run) => (
                <li key={run.hash}>
                  <button
                    className={`w-full text-left px-2 py-1 -mx-2 rounded-md ${run.hash === chosen?.hash ? 'bg-kelp-tint' : ''}`}
                    aria-current={run.hash === chosen?.hash}
                    onClick={() => setSearch({ run: run.hash }, { replace: true })}
                  >
                    <span className="flex gap-2 items-baseline">
                      <b className="font-semibold grow truncate">{run.name ?? momentExactly(run.madeAt)}</b>
                      <span
                        className={`text-[12px] whitespace-nowrap ${run.verdicts?.some(({ outcome }) => outcome === 'fails') === true ? 'text-coral-text' : 'text-mist'}`}
                      >
                        {verdictWords(run)}
                      </span>
                    </span>
                    <span className="note block truncate">
                      {[
                        ...(whole ? [titleOf(run.trial)] : []),
                        ...(run.name === null ? [] : [momentExactly(run.madeAt)]),
                        ...(run.tags === '' ? [] : [run.tags]),
                        ...(stays(run) === undefined ? [] : [`stays: ${stays(run)}`]),
                      ].join(', ') || 'may go by the rule'}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
            {found.length === 0 && (
              <p className="note pt-1">{asked === '' ? 'No run is kept yet. R runs the trial.' : 'No run has these words.'}</p>
            )}
            <p className="note pt-2">
              What is named or pinned stays until it is deleted, and the last run of each trial. Of the others the newest 60 stay,
              up to 4 GB.
              {waiting > 0 && ` ${waiting} ${waiting === 1 ? 'run is' : 'runs are'} still on the way to the server.`}
            </p>
          </section>
        </>
      }
      stage={
        <div className="h-full overflow-auto bg-chalk px-5 py-4" role="region" aria-label="The run" tabIndex={0}>
          {chosen === undefined ? (
            <p className="note p-6 text-center">What made a run, and what it came to, stands here.</p>
          ) : (
            <PanelBoundary name="The run">
              <RunPage key={chosen.hash} run={chosen} stays={stays(chosen)} {...{ projectId, titleOf }} />
            </PanelBoundary>
          )}
        </div>
      }
      card={
        <PanelBoundary name="The history of the trial">
          <TrialHistory
            {...{ projectId, view }}
            runs={foundRuns(
              all.filter(({ trial }) => trial === view.trial),
              '',
              titleOf,
            )}
            onChoose={(hash) => setSearch({ run: hash }, { replace: true })}
          />
        </PanelBoundary>
      }
    />
  )
}
