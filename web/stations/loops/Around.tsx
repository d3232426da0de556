import { Plus, X } from 'lucide-react'
import { filters, laws } from '@calm-hand/core/control'
import type { Part } from '@calm-hand/core/document'
import { findKind, pieces } from '@calm-hand/core/kinds'
import { Sentence, SlotAt } from '../../sentence'
import { setValue } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { shownUnit } from '../../units'
import { AddOfKind } from '../machine/AddOfKind'
import { LedgerRows } from '../machine/LedgerRows'
import { addPartTo, removePartFrom } from '../machine/partEdits'
import type { LoopView } from './useLoopView'

/** What belongs to the law beside its gains: its own settings, filters behind it, limits of its command. */
export function Around({ loop, view }: { readonly loop: string; readonly view: LoopView }) {
  const part = useOpen((project) => project.document.loops[loop]!)
  const path = `loops.${loop}`
  const law = findKind(laws, part.law as Part)
  return (
    <>
      {law !== undefined && <LedgerRows kind={law} without={[]} path={`${path}.law`} />}
      <Filters part={part} path={path} crossover={view.now?.analysis.crossover} />
      <Limits part={part} path={path} view={view} />
    </>
  )
}

interface FiltersProps {
  readonly part: Part
  readonly path: string
  readonly crossover: number | undefined
}

/** Times the crossover: where a new filter hardly changes the loop yet. */
const wellAbove = 8

function Filters({ part, path, crossover = 1 }: FiltersProps) {
  const frequency = Number((wellAbove * crossover).toPrecision(2))
  const fresh = { frequency, width: 0.5, depth: 0.1, lift: 0.3, factor: 2 }
  const list = Object.entries((part.filters ?? {}) as Readonly<Record<string, Part>>)
  return (
    <section aria-label="Filters" className="pt-1.5">
      <div className="flex items-center justify-between">
        <h4 className="font-semibold text-[12.5px]">Filters behind the law</h4>
        <AddOfKind to="filters" kinds={filters} onAdd={(kind) => edit(addPartTo(path, part, 'filters', kind, fresh).change)} />
      </div>
      {list.map(([name, one]) => {
        const kind = findKind(filters, one)
        if (kind === undefined) return null
        const own = `${path}.filters.${name}`
        const said = pieces(kind.says).flatMap((piece) => ('slot' in piece ? [piece.slot] : []))
        return (
          <div key={name} className="border-l-2 border-line pl-2 my-1">
            <div className="flex items-start gap-1">
              <div className="grow">
                <Sentence says={kind.says} path={own} className="text-[12.5px] leading-[22px]" />
              </div>
              <Leave label={`Remove ${name}`} onClick={() => edit(removePartFrom(path, 'filters', name))} />
            </div>
            <LedgerRows kind={kind} without={said} path={own} />
          </div>
        )
      })}
    </section>
  )
}

const limits = ['least', 'most', 'fastest'] as const
const words = { least: 'least', most: 'most', fastest: 'fastest change' } as const

function Limits({ part, path, view }: { readonly part: Part; readonly path: string; readonly view: LoopView }) {
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

function Leave({ label, onClick }: { readonly label: string; readonly onClick: () => void }) {
  return (
    <button className="text-mist p-0.5" aria-label={label} onClick={onClick}>
      <X size={13} />
    </button>
  )
}
