import { estimators, lowPassEstimator, observedSignal, observerKind, poseFilter, sensedEstimators } from '@calm-hand/core/control'
import type { Part } from '@calm-hand/core/document'
import { blankPart, findKind, labelOf, pieces } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { floatingBody } from '@calm-hand/core/machine'
import { Sentence } from '../../sentence'
import { addPart, removePart } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { AddOfKind } from '../machine/AddOfKind'
import { LedgerRows } from '../machine/LedgerRows'
import { freeName } from '../machine/partEdits'
import { PartItem, PartList } from './PartList'

/** What estimates the signals that the loops of a machine read. */
export function Estimators({ loop }: { readonly loop: string }) {
  const document = useOpen((project) => project.document)
  const part = document.loops[loop]!
  const machine = part.machine as string
  const mine = Object.entries(document.estimators).filter(([, one]) => one.machine === machine)
  const owner = document.machines[machine]
  const sensed = sensedEstimators.filter(({ needs }) =>
    Object.values(needs).every((kind) => owner !== undefined && sensorOf(owner, kind) !== undefined),
  )
  const kinds = [...(owner?.kind === floatingBody.name ? sensed : [{ ...observerKind, label: 'observer' }]), lowPassEstimator]
  return (
    <section className="section" aria-label="Estimators">
      <div className="flex items-center justify-between">
        <h3>Estimators</h3>
        <AddOfKind
          to="Estimators"
          kinds={kinds}
          onAdd={(kind) =>
            edit(
              addPart(
                `estimators.${freeName(Object.keys(document.estimators), kind.name)}`,
                kind.name === observerKind.name
                  ? observerFor(part)
                  : kind.name === lowPassEstimator.name
                    ? lowPassFor(part)
                    : sensedFor(owner!, machine, kind),
                'Add an estimator',
              ),
            )
          }
        />
      </div>
      {mine.length === 0 && <p className="note">None: laws read true values.</p>}
      {mine.map(([name, one]) => (
        <Estimator key={name} name={name} part={one} />
      ))}
    </section>
  )
}

function Estimator({ name, part }: { readonly name: string; readonly part: Part }) {
  const kind = findKind(estimators as readonly AnyKind[], part)
  if (kind === undefined) return null
  const path = `estimators.${name}`
  return (
    <PartItem
      title={labelOf(part, name)}
      sentence={<Sentence says={kind.says} path={path} className="inline text-[12.5px] leading-[22px]" />}
      removes={`Remove ${labelOf(part, name)}`}
      onRemove={() => edit(removePart(path, `Remove ${name}`))}
    >
      {kind !== observerKind && <LedgerRows kind={kind} without={['machine', ...saidIn(kind)]} path={path} />}
      {kind === observerKind && (
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

function sensorOf(machine: Part, kind: string): string | undefined {
  const sensors = Object.entries((machine.sensors ?? {}) as Readonly<Record<string, Part>>)
  return sensors.find(([, sensor]) => sensor.kind === kind)?.[0]
}

/** What a filter assumes at first, by unit: about what small sensors have (common practice, no source). */
const assumed: Readonly<Record<string, number>> = { m: 0.5, 'm/s': 0.3, rad: 0.02, 'rad/s': 0.005, 'm/s²': 0.2, s: 2 }

/** An estimator of a lifter that reads the first sensor of each kind it needs. */
function sensedFor(machine: Part, name: string, kind: AnyKind): Part {
  const needs = Object.entries(sensedEstimators.find((one) => one.name === kind.name)!.needs)
  const sensors = Object.fromEntries(needs.map(([slot, sort]) => [slot, sensorOf(machine, sort)]))
  const numbers = Object.entries(kind.slots).flatMap(([slot, one]) =>
    one.type === 'number' && one.otherwise === undefined ? [[slot, assumed[one.unit] ?? 1] as const] : [],
  )
  return blankPart(kind, {
    machine: name,
    ...sensors,
    ...Object.fromEntries(numbers),
    ...(kind === poseFilter ? { driftNoise: 1e-5 } : {}),
  })
}

/** A low-pass of what a loop holds, as often as the loop runs. */
function lowPassFor({ machine, holds, rate }: Part): Part {
  return blankPart(lowPassEstimator, { machine, signal: holds, rate })
}

/** An observer that reads what a loop holds, as often as the loop runs. */
function observerFor({ machine, holds, rate }: Part): Part {
  const reads = { first: { kind: observedSignal.name, signal: holds, noise: 0.001 } }
  return { kind: observerKind.name, machine, rate, disturbance: 1, reads }
}
