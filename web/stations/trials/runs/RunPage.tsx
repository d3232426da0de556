import { useEffect, useState } from 'react'
import { Pin } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { trialLayers } from '@calm-hand/core/machine'
import { checks as checkKinds, countOf } from '@calm-hand/core/simulation'
import { ChangeList } from '../../../frame/kept/ChangeList'
import { NameOf } from '../../../frame/kept/NameOf'
import { Sure } from '../../../frame/kept/Sure'
import { momentExactly, sizeInWords } from '../../../frame/kept/words'
import { answerTo, useAnswer } from '../../../compute'
import type { Answer } from '../../../compute'
import { pinRun } from '../../../state/edits'
import { afterChange, useMade } from '../../../state/kept'
import { edit, useOpen } from '../../../state/project'
import { loadRun, useRuns } from '../../../state/runs'
import { change } from '../../../state/server'
import type { KeptRun } from '../../../state/server'
import { freeLetter } from '../../../tray/letters'
import { partWords } from '../../partWords'
import { marginWords } from './findRuns'
import { VerdictMark } from './VerdictMark'

interface RunPageProps {
  readonly run: KeptRun
  /** Why it is kept; nothing where it may go. */
  readonly stays: string | undefined
  readonly projectId: string
  readonly titleOf: (trial: string) => string
}

/** One run: what it is called, what made it, how its checks came out; pinned, made again, or deleted. */
export function RunPage({ run, stays, projectId, titleOf }: RunPageProps) {
  const present = useOpen((project) => project.valid)
  const { data: made } = useMade(projectId, run)
  const { answer: changes } = useAnswer('changed', present, made === undefined ? undefined : [made], {
    subject: run.hash,
    lane: 'side',
  })
  const record = useRuns((runs) => runs.records[run.hash])
  const gone = useRuns((runs) => runs.gone.has(run.hash))
  useEffect(() => void loadRun(projectId, run.hash), [projectId, run.hash])
  const at = `projects/${projectId}/runs/${run.hash}`
  const say = (said: object) => void afterChange(change('PATCH', at, said))
  const isPinned = Object.values(present.tray).some((pin) => pin.run === run.hash)
  const pin = () => {
    const title = run.name ?? `${titleOf(run.trial)}, ${momentExactly(run.madeAt)}`
    edit(pinRun(freeLetter(present.tray), { title, trial: run.trial, run: run.hash, loops: made?.loops ?? present.loops }))
  }
  return (
    <div className="grid gap-4 max-w-[640px]">
      <header>
        <h2 className="text-[17px]">
          {run.name === null && <>Run of {momentExactly(run.madeAt)}, </>}
          <NameOf label="name of this run" name={run.name} onName={(name) => say({ name })} />
        </h2>
        <p className="note pt-1">
          {titleOf(run.trial)}, made {momentExactly(run.madeAt)}, {sizeInWords(run.length)}.{' '}
          {stays === undefined
            ? 'It goes once 60 newer ones are kept: give it a name, or pin it, to keep it.'
            : `It stays: ${stays}.`}
        </p>
        <p className="pt-1 text-[13px]">
          Tags:{' '}
          <NameOf
            label="tags of this run"
            empty="none"
            name={run.tags === '' ? null : run.tags}
            onName={(tags) => say({ tags: tags ?? '' })}
          />
        </p>
        <Note note={run.note} onNote={(note) => say({ note })} />
      </header>
      <div className="flex flex-wrap gap-2">
        <button className="button small" disabled={isPinned || record === undefined} onClick={pin}>
          <Pin size={13} /> {isPinned ? 'Pinned' : 'Pin it'}
        </button>
        {made !== undefined && record !== undefined && <Again made={made} run={run} />}
        <Sure label="Delete it" what="Gone for good." onDo={() => void afterChange(change('DELETE', at))} />
      </div>
      {gone && <p className="finding border-ochre">Its record is not here any more. Run the trial again for it.</p>}
      <Verdicts made={made} run={run} />
      <section aria-label="What made it">
        <h3>What made it</h3>
        {!run.isMade && (
          <p className="note">
            Nothing is kept of what made it: it comes from an earlier edition, or is on the way to the server.
          </p>
        )}
        {made !== undefined && <MadeBy made={made} run={run} layers={record?.layers} />}
      </section>
      {made !== undefined && (
        <section aria-label="Changed since">
          <h3>What has changed since</h3>
          {changes === undefined ? (
            <p className="note">Looking ...</p>
          ) : (
            <ChangeList changes={changes} none="Nothing: the document says the same now." most={40} />
          )}
        </section>
      )}
    </div>
  )
}

function Note({ note, onNote }: { readonly note: string; readonly onNote: (note: string) => void }) {
  const [text, setText] = useState<string>()
  return (
    <textarea
      className="mt-1 w-full min-h-[52px] px-2 py-1 text-[13px] border border-line rounded-md bg-transparent"
      aria-label="note on this run"
      placeholder="A note on this run"
      maxLength={4000}
      value={text ?? note}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => {
        if (text !== undefined && text !== note) onNote(text)
        setText(undefined)
      }}
    />
  )
}

/** Makes it once more from what made it, and says whether every bit is the same. */
function Again({ made, run }: { readonly made: Document; readonly run: KeptRun }) {
  const record = useRuns((runs) => runs.records[run.hash])
  const [told, setTold] = useState<Answer<'madeAgain'> | 'working' | { readonly failure: string }>()
  const make = () => {
    if (record === undefined) return
    setTold('working')
    const { hash, time, columns } = record
    const was = { hash, time, columns: columns.map(({ name, values }) => ({ name, values })) }
    answerTo({ name: 'madeAgain', document: made, rest: [run.trial, was], subject: run.hash, lane: 'side', rank: 1 }).then(
      setTold,
      (error: Error) => setTold({ failure: error.message }),
    )
  }
  if (told === 'working')
    return (
      <p role="status" className="note self-center">
        Makes it again ...
      </p>
    )
  return (
    <>
      <button className="button small" onClick={make}>
        Make it again
      </button>
      {told !== undefined && (
        <p role="status" className="basis-full text-[13px]">
          {againWords(told)}
        </p>
      )}
    </>
  )
}

function againWords(told: Answer<'madeAgain'> | { readonly failure: string }): string {
  if ('failure' in told) return `It could not be made again: ${told.failure}`
  if (told.kind === 'refused') return `It could not be made again: ${told.problems[0]!.what} ${told.problems[0]!.remedy}`
  const { numbers, differ, first, sameHash, engine } = told.value
  if (differ === 0) return `Made again: all ${numbers.toLocaleString('en')} numbers are the same, to the last bit.`
  const why = sameHash ? 'It was not made by this machine alone.' : `The engine is another one since (now ${engine}).`
  return `Made again: ${differ.toLocaleString('en')} of ${numbers.toLocaleString('en')} numbers differ, first those of ${first}. ${why}`
}

/** Every check of the trial as it was then, and how it came out. */
function Verdicts({ made, run }: { readonly made: Document | undefined; readonly run: KeptRun }) {
  const verdicts = run.verdicts ?? []
  if (verdicts.length === 0) return null
  const { held, all } = countOf(verdicts)
  const said = partsIn(made?.trials[run.trial]?.checks)
  return (
    <section aria-label="Verdicts">
      <h3>
        Checks <span className="number font-normal">{`${held} / ${all}`}</span>
      </h3>
      <ul className="text-[13px] leading-[22px]">
        {verdicts.map((verdict) => (
          <li key={verdict.check} className="flex gap-2">
            <VerdictMark verdict={verdict} />
            <span className="grow">
              {(made && partWords(made, { trial: run.trial }, checkKinds, said[verdict.check])) ?? verdict.check}
            </span>
            <span className="number whitespace-nowrap">{marginWords(verdict)}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

interface MadeByProps {
  readonly made: Document
  readonly run: KeptRun
  readonly layers: readonly string[] | undefined
}

function MadeBy({ made, run, layers }: MadeByProps) {
  const trial = made.trials[run.trial]
  const cues = Object.entries(partsIn(trial?.cues))
  const loops = Object.keys(made.loops).filter((name) => made.loops[name]!.machine === trial?.machine)
  return (
    <dl className="grid grid-cols-[110px_1fr] gap-x-3 text-[13px] leading-[22px]">
      <dt className="text-mist">trial</dt>
      <dd>{trial === undefined ? run.trial : `${trial.title}, of ${labelOf(made.machines[trial.machine], trial.machine)}`}</dd>
      <dt className="text-mist">seed</dt>
      <dd className="number">{trial?.seed}</dd>
      <dt className="text-mist">layers on</dt>
      <dd>
        {trialLayers
          .filter(({ name }) => layers?.includes(name))
          .map(({ label }) => label)
          .join(', ')
          .toLowerCase()}
      </dd>
      <dt className="text-mist">loops</dt>
      <dd>{loops.map((name) => labelOf(made.loops[name], name)).join(', ') || 'none'}</dd>
      <dt className="text-mist">cues</dt>
      <dd>{cues.length === 0 ? 'none' : cues.map(([name, cue]) => labelOf(cue, name)).join(', ')}</dd>
      <dt className="text-mist">content hash</dt>
      <dd className="number break-all">{run.hash}</dd>
    </dl>
  )
}
