import { ChevronDown, ChevronRight, Trash2 } from 'lucide-react'
import { memo } from 'react'
import { shallow } from 'zustand/shallow'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { findKind, labelOf, pieces } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { takenFrom } from '@calm-hand/core/machine'
import type { ShelfItem } from '@calm-hand/core/machine'
import { Sentence } from '../../sentence'
import { edit, partNow, useOpen } from '../../state/project'
import { AddOfKind } from './AddOfKind'
import { LedgerRows } from './LedgerRows'
import { MarkBox } from './MarkBox'
import { NameField } from './NameField'
import { OriginNote } from './OriginNote'
import { ShelfPicker } from './ShelfPicker'
import { addPartTo, removePartFrom, takePart } from './partEdits'

interface PartGroupProps {
  /** Document path of the machine. */
  readonly path: string
  readonly machine: Part
  readonly chosen: string
  readonly onChoose: (part: string) => void
  readonly title: string
  readonly group: string
  readonly kinds: readonly (AnyKind & { readonly label?: string })[]
  /** Those of them that are not added from the list. */
  readonly notAdded?: readonly string[]
  /** What a new part of a kind starts with, by slot. */
  readonly fresh: Readonly<Record<string, unknown>>
  /** Whether other machines of the yard may lend parts. */
  readonly hasShelf?: boolean
  /** Whether parts say their sentence while they are closed as well: short ones. */
  readonly isShort?: boolean
  /** What an open part shows of the groups within it. */
  readonly within?: (path: string, part: Part) => React.ReactNode
}

/** Parts of one group of a machine, each a sentence whose ledger unfolds; adding by kind. Drawn anew where the group changed. */
export const PartGroup = memo(Group, isGroupAlike)

/** A number typed elsewhere in the machine changes nothing of a group. */
function isGroupAlike({ machine, ...one }: PartGroupProps, { machine: other, ...next }: PartGroupProps): boolean {
  return machine[one.group] === other[next.group] && shallow(one, next)
}

function Group({
  title,
  group,
  kinds,
  path,
  machine,
  chosen,
  onChoose,
  fresh,
  hasShelf,
  notAdded = [],
  isShort = false,
  within,
}: PartGroupProps) {
  const parts = Object.entries(partsIn(machine[group]))
  const open = (name: string) => chosen === `${group}.${name}`
  const add = (kind: AnyKind) => {
    const { name, change } = addPartTo(path, partNow(path), group, kind, fresh)
    edit(change)
    onChoose(`${group}.${name}`)
  }
  const take = (item: ShelfItem) => {
    const { name, change } = takePart(path, partNow(path), group, takenFrom(item, kinds, fresh), item.name)
    edit(change)
    onChoose(`${group}.${name}`)
  }
  return (
    <section aria-label={title}>
      <div className="flex items-center justify-between px-4 pt-2.5 pb-1 border-b border-line">
        <h3 className="grow">{title}</h3>
        {hasShelf === true && (
          <span className="pr-3">
            <ShelfPicker group={group} title={title} kinds={kinds} onTake={take} />
          </span>
        )}
        <AddOfKind to={title} kinds={kinds.filter(({ name }) => !notAdded.includes(name))} onAdd={add} />
      </div>
      {parts.map(([name, part]) => {
        const kind = findKind(kinds, part)
        if (kind === undefined) return null
        return (
          <PartRow
            key={name}
            {...{ kind, part, name, path, group, isShort }}
            within={open(name) ? within?.(`${path}.${group}.${name}`, part) : undefined}
            open={open(name)}
            onOpen={() => onChoose(open(name) ? '' : `${group}.${name}`)}
            onRenamed={(next) => onChoose(`${group}.${next}`)}
          />
        )
      })}
    </section>
  )
}

interface PartRowProps {
  readonly kind: AnyKind
  readonly part: Part
  readonly name: string
  readonly path: string
  readonly group: string
  readonly within: React.ReactNode
  readonly isShort: boolean
  readonly open: boolean
  readonly onOpen: () => void
  readonly onRenamed: (name: string) => void
}

function PartRow({ kind, part, name, path, group, within, isShort, open, onOpen, onRenamed }: PartRowProps) {
  const own = `${path}.${group}.${name}`
  const problem = useOpen((project) => project.problems.find(({ where }) => where.startsWith(`${own}.`) || where === own))
  const inSentence = pieces(kind.says).flatMap((piece) => ('slot' in piece ? [piece.slot] : []))
  return (
    <section className={`border-b border-line ${open ? 'bg-kelp-tint border-l-[3px] border-l-kelp' : ''}`}>
      <div className="pl-3 pr-3 py-1">
        <div className="flex items-center justify-between">
          <Opener open={open} title={labelOf(part, name)} onOpen={onOpen} />
          <MarkBox path={own} name={labelOf(part, name)} />
        </div>
        {(open || isShort) && <Sentence says={kind.says} path={own} className="text-[12.5px] leading-[23px] py-1" />}
        {open && (
          <>
            <LedgerRows kind={kind} without={inSentence} path={own} />
            {within}
            <NameField path={own} part={part} onRenamed={onRenamed} />
            <OriginNote path={own} part={part} />
            <button className="button small mt-1.5" onClick={() => edit(removePartFrom(path, group, name))}>
              <Trash2 size={13} /> Remove
            </button>
          </>
        )}
        {problem !== undefined && (
          <p role="alert" className="text-[12px] leading-4 text-coral-text py-1">
            {problem.what} {problem.remedy}
          </p>
        )}
      </div>
    </section>
  )
}

export function Opener({ open, title, onOpen }: { readonly open: boolean; readonly title: string; readonly onOpen: () => void }) {
  return (
    <button className="inline-flex items-center gap-1 font-semibold text-[12.5px]" aria-expanded={open} onClick={onOpen}>
      {open ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
      {title}
    </button>
  )
}
