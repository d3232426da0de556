import { Plus } from 'lucide-react'
import { heightFilter, observedSignal, observerKind } from '@calm-hand/core/control'
import type { Part } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { floatingBody } from '@calm-hand/core/machine'
import { Sentence } from '../../sentence'
import { addPart, removePart } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { LedgerRows } from '../machine/LedgerRows'
import { freeName } from '../machine/partEdits'
import { PartItem, PartList } from './PartList'

const kinds = [heightFilter, observerKind]

/** What estimates the signals that the loops of a machine read. */
export function Estimators({ loop }: { readonly loop: string }) {
  const document = useOpen((project) => project.document)
  const part = document.loops[loop]!
  const machine = part.machine as string
  const mine = Object.entries(document.estimators).filter(([, one]) => one.machine === machine)
  const isLifter = document.machines[machine]?.kind === floatingBody.name
  return (
    <section className="section" aria-label="Estimators">
      <div className="flex items-center justify-between">
        <h3>Estimators</h3>
        {!isLifter && (
          <button
            className="flex items-center gap-1 text-[12px] text-kelp font-semibold"
            onClick={() =>
              edit(
                addPart(
                  `estimators.${freeName(Object.keys(document.estimators), 'observer')}`,
                  observerFor(part),
                  'Add an observer',
                ),
              )
            }
          >
            <Plus size={13} /> Observer
          </button>
        )}
      </div>
      {mine.length === 0 && <p className="note">None: laws read true values.</p>}
      {mine.map(([name, one]) => (
        <Estimator key={name} name={name} part={one} />
      ))}
    </section>
  )
}

function Estimator({ name, part }: { readonly name: string; readonly part: Part }) {
  const kind = findKind(kinds, part)
  if (kind === undefined) return null
  const path = `estimators.${name}`
  return (
    <PartItem
      title={name}
      sentence={<Sentence says={kind.says} path={path} className="inline text-[12.5px] leading-[22px]" />}
      removes={`Remove ${name}`}
      onRemove={() => edit(removePart(path, `Remove ${name}`))}
    >
      {kind === observerKind && (
        <>
          <LedgerRows kind={kind} without={['machine', 'rate']} path={path} />
          <PartList title="What it reads" path={path} group="reads" kinds={[observedSignal]} fresh={{ noise: 0.001 }} />
        </>
      )}
    </PartItem>
  )
}

/** An observer that reads what a loop holds, as often as the loop runs. */
function observerFor({ machine, holds, rate }: Part): Part {
  const reads = { first: { kind: observedSignal.name, signal: holds, noise: 0.001 } }
  return { kind: observerKind.name, machine, rate, disturbance: 1, reads }
}
