import { memo } from 'react'
import { estimators, observedSignal, observerKind } from '@calm-hand/core/control'
import type { Part } from '@calm-hand/core/document'
import { findKind, labelOf, pieces } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { Sentence } from '../../sentence'
import { addPart, removePart } from '../../state/edits'
import { edit, useSettled } from '../../state/project'
import { AddOfKind } from '../machine/AddOfKind'
import { LedgerRows } from '../machine/LedgerRows'
import { freeName } from '../machine/partEdits'
import { PartItem, PartList } from './PartList'

/** What estimates the signals that the loops of a machine read. */
export const Estimators = memo(function Estimators({ loop }: { readonly loop: string }) {
  const document = useSettled((one) => one)
  const part = document.loops[loop]!
  const machine = part.machine
  const mine = Object.entries(document.estimators).filter(([, one]) => one.machine === machine)
  const owner = document.machines[machine]
  const offered = owner === undefined ? [] : estimators.filter((kind) => kind.fresh(part, owner) !== undefined)
  return (
    <section className="section" aria-label="Estimators">
      <div className="flex items-center justify-between">
        <h3>Estimators</h3>
        <AddOfKind
          to="Estimators"
          kinds={offered}
          onAdd={(kind) =>
            edit(
              addPart(
                `estimators.${freeName(Object.keys(document.estimators), kind.name)}`,
                offered.find(({ name }) => name === kind.name)!.fresh(part, owner!)!,
                'Add an estimator',
              ),
            )
          }
        />
      </div>
      {mine.length === 0 && (
        <p className="note">{part.reads === 'measured' ? 'None: the law reads its sensors.' : 'None: laws read true values.'}</p>
      )}
      {mine.map(([name, one]) => (
        <Estimator key={name} name={name} part={one} />
      ))}
    </section>
  )
})

function Estimator({ name, part }: { readonly name: string; readonly part: Part }) {
  const kind = findKind(estimators, part)
  if (kind === undefined) return null
  const path = `estimators.${name}`
  return (
    <PartItem
      title={labelOf(part, name)}
      sentence={<Sentence says={kind.says} path={path} className="inline text-[12.5px] leading-[22px]" />}
      removes={`Remove ${labelOf(part, name)}`}
      onRemove={() => edit(removePart(path, `Remove ${name}`))}
    >
      {kind.name !== observerKind.name && <LedgerRows kind={kind} without={['machine', ...saidIn(kind)]} path={path} />}
      {kind.name === observerKind.name && (
        <>
          <LedgerRows kind={kind} without={['machine', 'rate', 'gains', ...unusedBy(part)]} path={path} />
          <PartList title="What it reads" path={path} group="reads" kinds={[observedSignal]} fresh={{ noise: 0.001 }} />
        </>
      )}
    </PartItem>
  )
}

/** Numbers of an observer that its way to gains does not use. */
function unusedBy({ gains }: Part): string[] {
  return [...(gains === 'varying' ? [] : ['startUncertainty']), ...(gains === 'poles' ? ['disturbance'] : ['pace'])]
}

/** Slots that stand in the sentence. */
function saidIn({ says }: AnyKind): string[] {
  return pieces(says).flatMap((piece) => ('slot' in piece ? [piece.slot] : []))
}
