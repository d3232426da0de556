import { commandedLoop, laws, loop as loopKind } from '@calm-hand/core/control'
import { findKind } from '@calm-hand/core/kinds'
import type { Part } from '@calm-hand/core/document'
import { requirement, typedGains } from '@calm-hand/core/control'
import { ProblemItem } from '../../frame/ProblemItem'
import { stationOf } from '../../frame/courseState'
import { setValue } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { Sentence, SlotAt } from '../../sentence'
import type { LoopView } from './useLoopView'

/** The loop in one breath, and how its gains come about. */
export function LoopSentence({ loop, view }: { readonly loop: string; readonly view: LoopView }) {
  const tuning = useOpen((project) => (project.document.loops[loop] as unknown as { tuning: Part }).tuning)
  const path = `loops.${loop}`
  const byRequirement = tuning.kind === requirement.name
  const law = useOpen((project) => (project.document.loops[loop] as unknown as { law: Part }).law)
  const pushes = useOpen((project) => project.document.loops[loop]!.pushes as string)
  const hasOneGain = findKind(laws, law)?.gains.length === 1
  return (
    <div className="bg-fog-2 border-b border-line px-4 py-2">
      <Sentence says={loopKind.says} path={path} className="text-[15px] leading-[27px]" />
      <div className="flex items-center gap-2">
        <p className="text-[15px] leading-[27px] grow">
          {byRequirement ? (
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
            <>Gains as typed in the ledger.</>
          )}{' '}
          <span className="text-mist">
            {commandedLoop(pushes) === undefined ? 'The others at rest.' : 'Those inside closed, the others at rest.'}
          </span>
        </p>
        <button
          className="text-kelp font-semibold text-[12.5px] whitespace-nowrap"
          disabled={view.now === undefined}
          onClick={() => edit(switched(loop, byRequirement, view))}
        >
          {byRequirement ? 'Take over the gains' : 'Ask for crossover and margin'}
        </button>
      </div>
      <Contradictions />
      {view.problems.map(({ what, remedy }) => (
        <p key={what} role="alert" className="text-[12.5px] text-coral-text">
          {what} {remedy}
        </p>
      ))}
    </div>
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

/** From requirement to its gains, or from gains to the requirement that they meet. */
function switched(loop: string, byRequirement: boolean, view: LoopView) {
  const { gains } = view.now!.design
  const { crossover, phaseMargin } = view.now!.analysis
  const tuning = byRequirement
    ? { kind: typedGains.name, ...gains }
    : {
        kind: requirement.name,
        crossover: crossover ?? 1,
        phaseMargin: phaseMargin !== undefined && phaseMargin > 0 ? phaseMargin : 1,
      }
  return setValue(`loops.${loop}.tuning`, tuning, byRequirement ? 'Take over the gains' : 'Ask for crossover and margin')
}
