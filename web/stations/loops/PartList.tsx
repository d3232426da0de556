import { X } from 'lucide-react'
import { partAt, partsIn } from '@calm-hand/core/document'
import { findKind, labelOf, pieces } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { Sentence, SlotAt } from '../../sentence'
import { edit, useOpen } from '../../state/project'
import { AddOfKind } from '../machine/AddOfKind'
import { LedgerRows } from '../machine/LedgerRows'
import { addPartTo, removePartFrom } from '../machine/partEdits'

interface PartListProps {
  readonly title: string
  /** Document path of what they belong to. */
  readonly path: string
  readonly group: string
  readonly kinds: readonly (AnyKind & { readonly label?: string })[]
  /** What a new part starts with. */
  readonly fresh: Readonly<Record<string, unknown>> | ((kind: AnyKind) => Readonly<Record<string, unknown>>)
  /** Units of slots that depend on the loop. */
  readonly units?: Readonly<{ [kind: string]: Readonly<Record<string, string>> }>
  /** Whether their names mean something to the engineer. */
  readonly named?: boolean
}

/** Named parts of a loop as sentences with their ledgers; those with a switch show it. */
export function PartList({ title, path, group, kinds, fresh, units = {}, named = false }: PartListProps) {
  const owner = useOpen((project) => partAt(project.document, path)!)
  const list = Object.entries(partsIn(owner[group]))
  const siblings = Object.fromEntries(list.map(([name]) => [name, name]))
  const add = (kind: AnyKind) => {
    const starts = typeof fresh === 'function' ? fresh(kind) : fresh
    edit(addPartTo(path, owner, group, kind, starts).change)
  }
  return (
    <section aria-label={title} className="pt-1.5">
      <div className="flex items-center justify-between">
        <h4 className="font-semibold text-[12.5px]">{title}</h4>
        <AddOfKind to={title} kinds={kinds} onAdd={add} />
      </div>
      {list.map(([name, part]) => {
        const kind = findKind(kinds, part)
        if (kind === undefined) return null
        const own = `${path}.${group}.${name}`
        const said = pieces(kind.says).flatMap((piece) => ('slot' in piece ? [piece.slot] : []))
        return (
          <PartItem
            key={name}
            title={named ? labelOf(part, name) : undefined}
            sentence={
              <Sentence
                says={kind.says}
                path={own}
                className="text-[12.5px] leading-[22px]"
                own={{ ...siblingSlots(kind, own, siblings), ...slotsInUnits(own, units[kind.name]) }}
              />
            }
            aside={'on' in kind.slots && <SlotAt path={`${own}.on`} />}
            removes={`Remove ${labelOf(part, name)}`}
            onRemove={() => edit(removePartFrom(path, group, name))}
          >
            <LedgerRows kind={kind} without={[...said, 'on', ...siblingNames(kind)]} path={own} />
            {siblingNames(kind)
              .filter((slot) => !said.includes(slot))
              .map((slot) => (
                <div key={slot} className="ledger-row items-center">
                  <span>{kind.slots[slot]!.label}</span>
                  <SlotAt path={`${own}.${slot}`} names={{ '': 'the same', ...siblings }} />
                </div>
              ))}
          </PartItem>
        )
      })}
    </section>
  )
}

interface PartItemProps {
  readonly title: string | undefined
  readonly sentence: React.ReactNode
  readonly aside?: React.ReactNode
  /** What the button that takes it away is called. */
  readonly removes: string
  readonly onRemove: () => void
  readonly children: React.ReactNode
}

/** A part as a sentence that can be taken away, its ledger under it. */
export function PartItem({ title, sentence, aside, removes, onRemove, children }: PartItemProps) {
  return (
    <div className="border-l-2 border-line pl-2 my-1">
      <div className="flex items-start gap-1">
        <div className="grow">
          {title !== undefined && <b className="text-[12.5px] font-semibold pr-1">{title}</b>}
          {sentence}
        </div>
        {aside}
        <Leave label={removes} onClick={onRemove} />
      </div>
      {children}
    </div>
  )
}

/** Slots that name another part of the same list. */
function siblingNames(kind: AnyKind): string[] {
  return Object.keys(kind.slots).filter((slot) => {
    const definition = kind.slots[slot]!
    return definition.type === 'name' && definition.of === 'sibling'
  })
}

function siblingSlots(kind: AnyKind, path: string, names: Readonly<Record<string, string>>) {
  return Object.fromEntries(
    siblingNames(kind).map((slot) => [slot, <SlotAt key={slot} path={`${path}.${slot}`} names={names} />]),
  )
}

function slotsInUnits(path: string, units: Readonly<Record<string, string>> = {}) {
  return Object.fromEntries(
    Object.entries(units).map(([slot, unit]) => [slot, <SlotAt key={slot} path={`${path}.${slot}`} unit={unit} />]),
  )
}

export function Leave({ label, onClick }: { readonly label: string; readonly onClick: () => void }) {
  return (
    <button className="text-mist p-0.5" aria-label={label} onClick={onClick}>
      <X size={13} />
    </button>
  )
}
