import { Plus } from 'lucide-react'
import {
  commandAtMost,
  delayRoomAtLeast,
  feedforwards,
  filters,
  gainRoomAtLeast,
  givesWayAtMost,
  inHandAtLeast,
  keeps,
  laws,
  recoversWithin,
  shapers,
  stops,
} from '@calm-hand/core/control'
import { partsIn } from '@calm-hand/core/document'
import type { LoopPart, Part } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { SlotAt } from '../../sentence'
import { setValue } from '../../state/edits'
import { edit, useSettled } from '../../state/project'
import { shownUnit, unitOver } from '../../units'
import { LedgerRows } from '../machine/LedgerRows'
import { Leave, PartList } from './PartList'
import { capital } from './capital'
import type { LoopView } from '../../compute/loops/loopView'

/** What belongs to the law beside its gains: its own settings, filters, feedforwards, shaping, limits of its command. */
export function Around({ loop, view }: { readonly loop: string; readonly view: LoopView }) {
  const part = useSettled((document) => document.loops[loop]!)
  const path = `loops.${loop}`
  const law = findKind(laws, part.law)
  const fresh = freshFor(view.now?.analysis.crossover)
  return (
    <>
      {law !== undefined && <LedgerRows kind={law} without={[]} path={`${path}.law`} />}
      {law !== undefined &&
        Object.entries(law.slots).map(([slot, definition]) =>
          definition.type === 'parts' ? (
            <PartList
              key={slot}
              title={capital(definition.label)}
              path={`${path}.law`}
              group={slot}
              kinds={definition.kinds}
              fresh={{
                signal: part.holds,
                command: '0',
                next: slot === 'states' ? firstOf(part.law) : '',
                when: 'since > 1',
              }}
              named
            />
          ) : null,
        )}
      <PartList title="It shall keep" path={path} group="keeps" kinds={keeps} fresh={keepsNow(view)} units={keepUnits(view)} />
      <PartList title="Filters behind the law" path={path} group="filters" kinds={filters} fresh={fresh} />
      <PartList title="Carried beforehand" path={path} group="feedforwards" kinds={feedforwards} fresh={fresh} />
      {part.reference !== 'command' && (
        <PartList title="Shaping of the reference" path={path} group="shaping" kinds={shapers} fresh={fresh} />
      )}
      <PartList title="Protective stops" path={path} group="stops" kinds={stops} fresh={{ when: 'rate > 1', after: 0.5 }} />
      <Limits part={part} path={path} view={view} />
    </>
  )
}

/** Times the crossover: where a new filter hardly changes the loop yet. */
const wellAbove = 8

/** What a new filter, shaper or feedforward starts with, by slot. */
function freshFor(crossover = 1): Readonly<Record<string, unknown>> {
  const frequency = Number((wellAbove * crossover).toPrecision(2))
  return { frequency, width: 0.5, depth: 0.1, lift: 0.3, factor: 2, on: true, scale: 1 }
}

/** A new requirement starts near what the loop does now, in round numbers, or at what is usual for its kind. */
function keepsNow({ now }: LoopView): (kind: AnyKind) => Readonly<Record<string, unknown>> {
  const margin = now?.analysis.phaseMargin
  return ({ name }) => {
    if (name === inHandAtLeast.name) return margin !== undefined && margin > 0 ? { least: Number(margin.toPrecision(2)) } : {}
    return asUsual.has(name) ? {} : { most: 0.2 }
  }
}

const asUsual = new Set([gainRoomAtLeast, delayRoomAtLeast, givesWayAtMost, recoversWithin].map(({ name }) => name))

function keepUnits({ axis, quantity }: LoopView) {
  return {
    [commandAtMost.name]: { most: axis.unit },
    [givesWayAtMost.name]: { most: unitOver(quantity.unit, axis.unit) },
  }
}

const limits = ['least', 'most', 'fastest'] as const
const words = { least: 'least', most: 'most', fastest: 'fastest change' } as const

function Limits({ part, path, view }: { readonly part: LoopPart; readonly path: string; readonly view: LoopView }) {
  const unit = shownUnit(view.axis.unit)
  const missing = limits.filter((one) => part[one] === undefined)
  return (
    <section aria-label="Limits" className="pt-1.5">
      <h4 className="font-semibold text-[12.5px]">Limits of the command</h4>
      {limits
        .filter((one) => part[one] !== undefined)
        .map((one) => (
          <div key={one} className="ledger-row items-center">
            <span>{words[one]}</span>
            <SlotAt path={`${path}.${one}`} unit={view.axis.unit} />
            <Leave
              label={`Lift the limit: ${words[one]}`}
              onClick={() => edit(setValue(`${path}.${one}`, undefined, `Lift the limit`))}
            />
            {one === 'fastest' && <span className="note">{unit} in a second</span>}
          </div>
        ))}
      <p className="flex flex-wrap gap-1 pt-0.5">
        {missing.map((one) => (
          <button
            key={one}
            className="button small"
            onClick={() => edit(setValue(`${path}.${one}`, startOf(one, view), `Limit the command`))}
          >
            <Plus size={12} /> {words[one]}
          </button>
        ))}
      </p>
    </section>
  )
}

/** A limit that a step as shown just reaches, in round numbers; and never one that the operating point crosses. */
function startOf(limit: (typeof limits)[number], { now }: LoopView): number {
  const rest = now?.design.nominalPush ?? 0
  const reach = Math.max(1e-6, ...[...(now?.step.push ?? [])].map((value) => Math.abs(value - rest)))
  const round = Number(reach.toPrecision(2))
  return limit === 'most'
    ? Number((rest + round).toPrecision(3))
    : limit === 'least'
      ? Number((rest - round).toPrecision(3))
      : round
}

/** The name of the first state of a law, to go back to. */
function firstOf(law: Part): string {
  return Object.keys(partsIn(law.states))[0] ?? 'logicState'
}
