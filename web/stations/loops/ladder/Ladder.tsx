import { memo, useMemo } from 'react'
import type { Document } from '@calm-hand/core/document'
import { innerLoops } from '@calm-hand/core/control'
import { useAnswer } from '../../../compute'
import type { Rung } from '../../../compute/loops/rungs'
import { Phrase } from '../../../frame/Phrase'
import { useTogether } from '../../../state/together'
import { AddLoop } from '../AddLoop'
import { Stale } from '../Stale'
import { TooClose } from '../TooClose'
import { WhenAllClose } from '../WhenAllClose'
import { Arc, FactMark, Ruler, RungMark } from './marks'
import { factsOf, movesOf, separations, setApart } from './rungs'
import { height, most, scaleFor } from './scale'

interface LadderProps {
  readonly document: Document
  readonly chosen: string
  readonly onChoose: (loop: string) => void
}

const none: readonly Rung[] = []

/** Loops on a frequency ruler at their crossover, beside the facts that limit them. Dragging a rung retunes its loop. */
export const Ladder = memo(function Ladder({ document, chosen, onChoose }: LadderProps) {
  const machine = document.loops[chosen]!.machine
  const rungs = useAnswer('rungs', document, [machine], { subject: machine, rank: 3 }).answer ?? none
  const scale = useMemo(() => scaleFor(rungs), [rungs])
  const facts = useMemo(() => factsOf(document, chosen), [document, chosen])
  const { figures: together } = useTogether(document, machine, 'commands')
  const moves = movesOf(rungs, together)
  const chain = [chosen, ...innerLoops(document, chosen)]
  const inChain = (name: string) => chain.includes(name) || innerLoops(document, name).includes(chosen)
  const standing = rungs.flatMap(({ name, crossover }) =>
    crossover === undefined ? [] : [{ name, crossover, at: scale.y(crossover) }],
  )
  const labels = setApart(standing)
  const byName = new Map(rungs.map((rung) => [rung.name, rung]))
  const pairs = separations(rungs)

  return (
    <section className="p-4 flex flex-col min-h-0 h-full" aria-label="Bandwidth ladder">
      <div className="flex items-center gap-2">
        <h2 className="grow">
          <Phrase of="ladder">Bandwidth ladder</Phrase>
        </h2>
        <AddLoop onAdded={onChoose} />
      </div>
      <p className="note pb-1">rad/s. Drag a rung, or focus it and use the arrows.</p>
      <svg
        viewBox={`0 0 300 ${height}`}
        className="w-full grow min-h-0 select-none"
        fontSize="11.5"
        preserveAspectRatio="xMidYMin meet"
      >
        <Ruler scale={scale} />
        {facts
          .filter(({ w }) => w >= scale.least && w <= most)
          .map((fact) => (
            <FactMark key={fact.name} fact={fact} at={scale.y(fact.w)} />
          ))}
        {pairs.map((pair) => (
          <Arc
            key={pair.outer.name}
            pair={pair}
            from={labels.get(pair.outer.name)!}
            to={labels.get(pair.inner.name)!}
            move={moves.get(pair.outer.name)}
            inChain={inChain(pair.outer.name)}
          />
        ))}
        {standing.map(({ name, crossover }) => (
          <RungMark
            key={name}
            rung={byName.get(name)!}
            crossover={crossover}
            scale={scale}
            label={labels.get(name)!}
            isChosen={name === chosen}
            onChoose={onChoose}
          />
        ))}
      </svg>
      <Stale document={document} />
      <WhenAllClose document={document} moves={moves} />
      <TooClose pairs={pairs} />
      <BesideTheRuler rungs={rungs} chosen={chosen} onChoose={onChoose} />
    </section>
  )
})

/** The chosen loop where a drag does not move it, and loops without a rung, or unstable on theirs. */
function BesideTheRuler({ rungs, chosen, onChoose }: Omit<LadderProps, 'document'> & { readonly rungs: readonly Rung[] }) {
  return (
    <ul className="note">
      {rungs
        .filter(({ name, crossover, stays }) => name === chosen && crossover !== undefined && stays !== undefined)
        .map(({ name, label, stays }) => (
          <li key={name}>
            {label} stays where it is on the ruler: {stays}.
          </li>
        ))}
      {rungs
        .filter(({ crossover, stable }) => crossover === undefined || !stable)
        .map((rung) => (
          <li key={rung.name} className={rung.notLinear ? '' : 'text-coral-text'}>
            <button className="underline" onClick={() => onChoose(rung.name)}>
              {rung.label}
            </button>{' '}
            {lackOf(rung)}
          </li>
        ))}
    </ul>
  )
}

function lackOf({ crossover, handle, notLinear }: Rung): string {
  if (notLinear) return 'has no linear form, so it has no rung.'
  if (crossover !== undefined) return 'is unstable.'
  return handle === undefined ? 'has no crossover with its gains.' : 'has no crossover: what is asked is out of reach.'
}
