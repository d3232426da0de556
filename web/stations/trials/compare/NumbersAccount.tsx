import { useState } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Mate, NumberShare, RecordAccount } from '@calm-hand/core/identification'
import { recordAsked } from '@calm-hand/core/simulation'
import { ProblemItem } from '../../../frame/ProblemItem'
import { ChoiceField, Sentence } from '../../../sentence'
import { againstKey, cancelAgainst, useAgainst, workOutAgainst } from '../../../state/against'
import { setValue } from '../../../state/edits'
import { edit, lookedAt, useOpen } from '../../../state/project'
import { toggled } from '../../../state/toggled'
import { digitsOf, shownUnit, signalUnit, withUnit } from '../../../units'
import type { TrialView } from '../useTrialView'
import { askedNumbers, compareWith, placeOfNumber, takeOver, tryInTrial } from './recordEdits'
import type { Comparison } from './useComparison'
import { Working } from '../Working'
import { Separating } from './Separating'
import { WhatIsLeft } from './WhatIsLeft'

interface NumbersAccountProps {
  readonly view: TrialView
  readonly projectId: string
  readonly comparison: Comparison
}

/** Which numbers of the machine explain the difference between simulation and record, and what nobody can tell apart. */
export function NumbersAccount({ view, projectId, comparison }: NumbersAccountProps) {
  const { trial } = view
  const { asked, told } = comparison
  const document = useOpen((project) => project.valid)
  const against = useAgainst()
  const state = against.trial === trial ? against.state : { kind: 'none' as const }
  const found = state.kind === 'done' ? state.found : undefined
  const isOlder = against.key !== againstKey(document, trial, asked)
  const path = `trials.${trial}.against`
  const said = partsIn((document.trials[trial]!.against as { readonly numbers?: unknown } | undefined)?.numbers as never)
  const names = Object.values(said).map(({ number }) => String(number))
  const begin = async (numbers: readonly string[]) => {
    if (document.trials[trial]!.against === undefined)
      edit(setValue(path, { kind: recordAsked.name, ...asked }, 'Ask about a record'))
    const project = await lookedAt(projectId)
    if (project !== undefined)
      await workOutAgainst(project.valid, project.document, trial, asked, numbers.length === 0 ? undefined : numbers)
  }
  const say = (numbers: readonly string[]) => {
    edit(setValue(`${path}.numbers`, askedNumbers(numbers), 'Say which numbers may be others'))
    void begin(numbers)
  }
  const move = (by: number) => {
    const place = `${comparison.path}.late`
    edit(setValue(place, Number((Number(comparison.part.late) + by).toFixed(4)), 'Move the record'))
  }
  const records = Object.fromEntries(
    Object.entries(partsIn(document.trials[trial]!.records)).map(([name, part]) => [name, String(part.file)]),
  )
  const record = (
    <ChoiceField
      label="record"
      value={asked.record}
      options={records}
      onChoose={(next) => edit(compareWith(trial, asked, next))}
    />
  )
  const isReady = told?.measured !== undefined && told.measured.signals.size > 0
  return (
    <section className="section" aria-label="Account against the record">
      <div className="flex items-baseline gap-2">
        <h3 className="grow">Account for the gap</h3>
        {found !== undefined && (
          <span className="note">
            fitted in {found.account.steps} steps, {found.seconds.toFixed(1)} s
          </span>
        )}
      </div>
      {document.trials[trial]!.against === undefined ? (
        <p className="text-[13.5px]">Simulation and record, over all of the run:</p>
      ) : (
        <Sentence className="text-[13.5px] leading-[25px]" says={recordAsked.says} path={path} own={{ record }} />
      )}
      {state.kind !== 'working' && (found === undefined || isOlder) && (
        <button className="button main my-1" disabled={!isReady} onClick={() => void begin(names)}>
          {found === undefined ? 'Which numbers explain it?' : 'Work it out anew'}
        </button>
      )}
      {state.kind === 'none' && (
        <p className="note">
          {isReady
            ? 'Looks at every number of the machine: which changes explain the record, how well each is known, and which it cannot tell apart.'
            : 'Say of at least one column of the record which signal it is.'}
        </p>
      )}
      {state.kind === 'working' && <Working words={state.step} share={state.share} onCancel={cancelAgainst} />}
      {state.kind === 'refused' && state.problems.map((problem) => <ProblemItem key={problem.what} problem={problem} />)}
      {state.kind === 'failed' && (
        <p role="alert" className="finding border-coral">
          The account broke off: {state.what} Work it out again.
        </p>
      )}
      {found !== undefined && isOlder && (
        <p className="finding border-ochre">
          Older than what is shown: the trial, the machine, the record or its columns have changed since.
        </p>
      )}
      {found !== undefined && <Found view={view} account={found.account} isOlder={isOlder} onSay={say} onMove={move} />}
      {found !== undefined && !isOlder && <Separating {...{ trial, projectId, asked }} numbers={found.account.numbers} />}
      {found !== undefined && <WhatIsLeft signals={found.account.signals} />}
    </section>
  )
}

interface FoundProps {
  readonly view: TrialView
  readonly account: RecordAccount
  readonly isOlder: boolean
  /** Has the account made with these numbers. */
  readonly onSay: (numbers: readonly string[]) => void
  /** Moves the record by so many s more. */
  readonly onMove: (by: number) => void
}

function Found({ view, account, isOlder, onSay, onMove }: FoundProps) {
  const { numbers, signals, late, others } = account
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  // a number of the scene, or one that is hardly known, is taken over by a person's own choice alone
  const isDoubtful = ({ owner, bound, fitted, now }: NumberShare) => owner === 'scene' || !(bound < Math.abs(fitted - now))
  const isTaken = (one: NumberShare) => left.has(one.name) === isDoubtful(one)
  const taken = numbers.filter(isTaken)
  const names = numbers.map(({ name }) => name)
  const toggle = (name: string) => setLeft((now) => toggled(now, name))
  return (
    <>
      <p className="text-[13px] py-1">
        Moved by another{' '}
        <b className="number font-medium">
          {(1000 * late.value).toFixed(1)} ± {(1000 * late.bound).toFixed(1)} ms
        </b>
        , the record differs by{' '}
        {signals.map(({ name, label, unit, before, after }) => (
          <span key={name}>
            {label} <b className="number font-medium">{withUnit(before, signalUnit({ name, unit }), 3)}</b>, fitted{' '}
            <b className="number font-medium">{withUnit(after, signalUnit({ name, unit }), 3)}</b>;{' '}
          </span>
        ))}
        rms.{' '}
        {Math.abs(late.value) > late.bound / 2 && !isOlder && (
          <button className="underline" onClick={() => onMove(late.value)}>
            Move it by that
          </button>
        )}
      </p>
      {numbers.length === 0 && <p className="finding border-slate">No number of the machine explains what they differ by.</p>}
      {numbers.length > 0 && (
        <table className="w-full text-[12.5px]" aria-label="Numbers that explain the record">
          <thead>
            <tr className="text-mist">
              <th colSpan={2} className="text-left font-normal">
                number, now → fitted
              </th>
              {signals.map(({ name, label }) => (
                <th key={name} className="text-right font-normal truncate max-w-[60px]" title={label}>
                  {label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {numbers.map((one) => (
              <NumberRow
                key={one.name}
                {...{ one, view }}
                taken={isTaken(one)}
                onToggle={() => toggle(one.name)}
                onMate={(mate) => onSay(names.map((name) => (name === one.name ? mate.name : name)))}
              />
            ))}
            <tr className="border-t border-line">
              <td />
              <th scope="row" className="text-left font-medium">
                left
              </th>
              {signals.map(({ name, before, after }) => (
                <td key={name} className="number text-right">
                  {percent(after / (before || 1))}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      )}
      {taken.length > 0 && !isOlder && (
        <p className="flex flex-wrap items-center gap-2 py-1.5">
          <button className="button main" onClick={() => edit(takeOver(view.machineName, taken))}>
            Take {taken.length === 1 ? 'one number' : `${taken.length} numbers`} over
          </button>
          <button className="button" onClick={() => edit(tryInTrial(view.trial, taken))}>
            Try in this trial alone
          </button>
          <span className="note basis-full">
            Taking over makes loops, trials and predictions of this machine older; undo brings all back.
          </span>
        </p>
      )}
      {others.length > 0 && (
        <p className="note py-1">
          Beside these would explain most:{' '}
          {others.slice(0, 4).map(({ name, label, explains }) => (
            <button
              key={name}
              className="underline mr-2"
              title={`Fit it too. It would take ${percent(explains)} % of what is left, squared.`}
              onClick={() => onSay([...names, name])}
            >
              {label} <span className="number">{percent(explains)} %</span>
            </button>
          ))}
        </p>
      )}
    </>
  )
}

interface NumberRowProps {
  readonly one: NumberShare
  readonly view: TrialView
  readonly taken: boolean
  readonly onToggle: () => void
  readonly onMate: (mate: Mate) => void
}

const together: Readonly<Record<Mate['shows'], string>> = {
  ratio: 'only their ratio shows',
  product: 'only their product shows',
  sum: 'only their sum shows',
  difference: 'only their difference shows',
  combination: 'only one combination of them shows',
}

function NumberRow({ one, view, taken, onToggle, onMate }: NumberRowProps) {
  const { label, unit, now, fitted, bound, portions, mates, name } = one
  const size = (value: number) => digitsOf(value, unit, 4)
  return (
    <>
      <tr className="align-baseline" title={placeOfNumber(view.machineName, { name })}>
        <td className="w-6">
          <input type="checkbox" className="accent-kelp" checked={taken} onChange={onToggle} aria-label={`take ${label} over`} />
        </td>
        <th scope="row" className="text-left font-medium">
          {label}
          <span className="block number font-normal">
            {size(now)} → <b className="font-semibold">{size(fitted)}</b>{' '}
            <span className="text-mist">
              ± {digitsOf(bound, unit, 2)} {shownUnit(unit)}
            </span>
          </span>
        </th>
        {portions.map((portion, s) => (
          <td key={s} className="number text-right align-middle">
            {percent(portion)}
            <svg className="ml-auto" width="52" height="4" aria-hidden="true">
              <rect width="52" height="4" fill="var(--fog-2)" />
              <rect width={52 * Math.min(1, Math.abs(portion))} height="4" fill={portion < 0 ? 'var(--mist)' : 'var(--slate)'} />
            </svg>
          </td>
        ))}
      </tr>
      {mates.length > 0 && (
        <tr>
          <td />
          <td colSpan={portions.length + 1} className="pb-1">
            <div className="border-l-2 border-ochre pl-2 text-[12px]">
              <b className="font-semibold text-ochre-text">{together[mates[0]!.shows]}:</b> take it as{' '}
              {mates.map((mate) => (
                <button key={mate.name} className="underline mr-2" title={together[mate.shows]} onClick={() => onMate(mate)}>
                  {mate.label} <span className="number text-mist">{digitsOf(mate.instead, '', 4)}</span>
                </button>
              ))}
            </div>
          </td>
        </tr>
      )}
    </>
  )
}

function percent(share: number): string {
  return (100 * share).toFixed(1)
}
