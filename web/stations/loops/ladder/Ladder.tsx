import { memo, useMemo } from 'react'
import type { Document } from '@calm-hand/core/document'
import { innerLoops } from '@calm-hand/core/control'
import { useAnswer } from '../../../compute'
import type { Rung } from '../../../compute/loops/rungs'
import { Phrase } from '../../../frame/Phrase'
import { Steady } from '../../../frame/Steady'
import { useTogether } from '../../../state/together'
import { AddLoop } from '../AddLoop'
import { Stale } from '../Stale'
import { TooClose } from '../TooClose'
import { WhenAllClose } from '../WhenAllClose'
import { Arc, FactMark, Ruler, RungMark } from './marks'
import { askedAt, factsOf, movesOf, separations, setApart } from './rungs'
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
  const standing = rungs.flatMap((rung) => {
    // what is asked out of reach stays where it is asked, to be drawn back
    const w = rung.crossover ?? (rung.handle && askedAt(document, rung.handle))
    return w === undefined ? [] : [{ rung, name: rung.name, w, at: scale.y(w) }]
  })
  const labels = setApart(standing)
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
        <Ruler scale={scale} labels={[...labels.values()]} />
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
        {standing.map(({ rung, name, w }) => (
          <RungMark
            key={name}
            rung={rung}
            w={w}
            scale={scale}
            label={labels.get(name)!}
            isChosen={name === chosen}
            onChoose={onChoose}
          />
        ))}
      </svg>
      <Steady>
        <Stale document={document} />
        <WhenAllClose document={document} moves={moves} />
        <TooClose pairs={pairs} />
        <BesideTheRuler rungs={rungs} chosen={chosen} onChoose={onChoose} />
      </Steady>
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
            {lackOf(rung, rung.name === chosen)}
          </li>
        ))}
    </ul>
  )
}

function lackOf({ crossover, lacks, notLinear }: Rung, isChosen: boolean): string {
  if (notLinear) return 'has no linear form, so it has no rung.'
  if (lacks !== undefined) return isChosen && lacks.isOwn ? 'has no gains: its sentence says why.' : lacks.words
  return crossover !== undefined ? 'is unstable.' : 'has no crossover with its gains.'
}
