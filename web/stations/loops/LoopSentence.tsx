import { besideOf, commandedLoop, laws } from '@calm-hand/core/control'
import type { Document, LoopPart } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { pointNames } from '@calm-hand/core/machine'
import { loop as loopKind, requirement, tunings, typedGains } from '@calm-hand/core/tuning'
import { ProblemItem } from '../../frame/ProblemItem'
import { Steady } from '../../frame/Steady'
import { stationOf } from '../../frame/places'
import { setValue } from '../../state/edits'
import { edit, useOpen, useSettled } from '../../state/project'
import { ChoiceField, Sentence, SlotAt, Words } from '../../sentence'
import { withUnit } from '../../units'
import { MeetRequirements } from './MeetRequirements'
import { askOnce } from '../../state/askOnce'
import { methodsFor, otherTuning } from '../../compute/loops/lawChoice'
import type { LoopView } from '../../compute/loops/loopView'

const lawNames = Object.fromEntries(laws.map(({ name, label }) => [name, label]))

async function setLaw(document: Document, loop: string, part: LoopPart, kind: string): Promise<void> {
  const next = await askOnce('withLaw', document, loop, part, kind)
  if (next !== undefined) edit(setValue(`loops.${loop}`, next, 'Set the law'))
}

/** The loop in one breath, and how its gains come about. */
export function LoopSentence({ loop, view }: { readonly loop: string; readonly view: LoopView }) {
  const part = useSettled((one) => one.loops[loop]!)
  const document = useOpen((project) => project.valid)
  const { tuning, law, pushes } = part
  const path = `loops.${loop}`
  const byRequirement = tuning.kind === requirement.name
  const isTyped = tuning.kind === typedGains.name
  const method = findKind(tunings, tuning)
  const methods = methodsFor(part)
  const takeOver = (kind: string) =>
    edit(setValue(`${path}.tuning`, otherTuning(document, loop, kind, view.now), 'Set where gains come from'))
  const beside = document.loops[loop] === undefined ? undefined : besideOf(document, loop)
  const owner = document.machines[part.machine]
  const hasPoints = owner !== undefined && pointNames(owner).length > 0
  const hasOneGain = view.now?.design.law.gains.length === 1
  return (
    <Steady className="bg-fog-2 border-b border-line px-4 py-2">
      <Sentence
        says={loopKind.says}
        path={path}
        className="text-[15px] leading-[27px]"
        own={{
          law: (
            <ChoiceField
              label="law"
              value={law.kind}
              options={lawNames}
              onChoose={(kind) => void setLaw(document, loop, part, kind)}
            />
          ),
        }}
      />
      <div className="flex items-center justify-end gap-x-2 flex-wrap">
        <p className="text-[15px] leading-[27px] basis-full">
          {Object.keys(methods).length === 0 ? (
            <>It has no gains: what it does stands in the ledger.</>
          ) : byRequirement ? (
            <>
              Cross over at <SlotAt path={`${path}.tuning.crossover`} digits={3} effect={<Effect view={view} />} />
              {hasOneGain ? (
                <Left view={view} />
              ) : (
                <>
                  {' '}
                  with <SlotAt path={`${path}.tuning.phaseMargin`} digits={3} effect={<Effect view={view} />} /> in hand.
                </>
              )}
            </>
          ) : (
            method !== undefined && (
              <>
                <Words says={method.inShort ?? method.says} path={`${path}.tuning`} /> <Seen view={view} />
              </>
            )
          )}{' '}
          <span className="text-mist">{commandedLoop(pushes) === undefined ? 'With' : 'Those inside closed,'}</span>{' '}
          <SlotAt path={`${path}.others`} />
          {hasPoints && (
            <>
              , about <SlotAt path={`${path}.point`} />
            </>
          )}
          .
          {beside !== undefined && (
            <span className="text-mist">
              {' '}
              One vector with <b className="font-medium">{beside}</b>: they turn the shortest way.
            </span>
          )}
        </p>
        {tuning.kind in methods && (
          <span className="text-[12.5px]">
            <ChoiceField label="where gains come from" value={tuning.kind} options={methods} onChoose={takeOver} />
          </span>
        )}
        {requirement.name in methods && !hasOneGain && <MeetRequirements loop={loop} view={view} />}
        {requirement.name in methods && (
          <button
            className="text-kelp font-semibold text-[12.5px] whitespace-nowrap"
            disabled={view.now === undefined}
            onClick={() => takeOver(isTyped ? requirement.name : typedGains.name)}
          >
            {isTyped ? 'Ask for crossover and margin' : 'Take over the gains'}
          </button>
        )}
      </div>
      <Contradictions />
      {view.problems.map(({ what, remedy }) => (
        <p key={what} role="alert" className="text-[12.5px] text-coral-text">
          {what} {remedy}
        </p>
      ))}
    </Steady>
  )
}

/** Problems of the sentences themselves; what is drawn is the last design without them. */
function Contradictions() {
  const problems = useOpen((project) => project.problems)
  const mine = problems.filter(({ where }) => stationOf(where) === 'loops')
  const elsewhere = problems.length - mine.length
  if (problems.length === 0) return null
  return (
    <div className="text-[12.5px] leading-[18px] pt-1">
      {mine.map((problem) => (
        <ProblemItem key={problem.where + problem.what} problem={problem} />
      ))}
      {elsewhere > 0 && <p className="text-coral-text">A problem elsewhere in the project keeps it from being computed anew.</p>}
      <p className="note">Drawn from the last sentences without a problem.</p>
    </div>
  )
}

/** A law of one gain meets the crossover; the margin is what it is. */
function Left({ view }: { readonly view: LoopView }) {
  const margin = view.now?.analysis.phaseMargin
  return (
    <>
      ; its one gain leaves{' '}
      {margin === undefined ? 'no margin' : <b className="number font-medium">{((margin * 180) / Math.PI).toFixed(1)}°</b>} in
      hand.
    </>
  )
}

/** What the value under the hand brings, before it is taken. */
function Effect({ view }: { readonly view: LoopView }) {
  if (view.now === undefined) return <>out of reach</>
  const { figures } = view.now
  return (
    <>
      overshoot <b className="number">{(100 * figures.overshoot).toFixed(1)} %</b>
      {figures.settling !== undefined && (
        <>
          , settles in <b className="number">{figures.settling.toFixed(2)} s</b>
        </>
      )}
    </>
  )
}

/** What an experiment showed of the linear machine, and what its tables are worth. */
function Seen({ view }: { readonly view: LoopView }) {
  const seen = view.now?.design.experiment
  if (seen === undefined) return null
  const { unit } = view.quantity
  return (
    <span className="text-[12.5px] text-mist">
      {seen.kind === 'swing' ? (
        <>
          It swings by {withUnit(seen.amplitude, unit, 3)} every {withUnit(seen.period, 's', 3)}.
        </>
      ) : seen.lag === Infinity ? (
        <>It integrates after {withUnit(seen.delay, 's', 3)}.</>
      ) : (
        <>
          It answers as a lag of {withUnit(seen.lag, 's', 3)} after {withUnit(seen.delay, 's', 3)}
          {(seen.delay < 0.1 * seen.lag || seen.delay > seen.lag) && ', outside of what the tables are meant for'}.
        </>
      )}{' '}
      Such tables leave little damping: look at the margins.
    </span>
  )
}
