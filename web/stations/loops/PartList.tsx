import { X } from 'lucide-react'
import type { Part } from '@calm-hand/core/document'
import { findKind, pieces } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { Sentence, SlotAt } from '../../sentence'
import { edit, useOpen } from '../../state/project'
import { AddOfKind } from '../machine/AddOfKind'
import { LedgerRows } from '../machine/LedgerRows'
import { addPartTo, removePartFrom } from '../machine/partEdits'

interface PartListProps {
  readonly title: string
  /** Document path of the loop. */
  readonly path: string
  readonly group: 'filters' | 'feedforwards' | 'shaping'
  readonly kinds: readonly (AnyKind & { readonly label?: string })[]
  /** What a new part starts with. */
  readonly fresh: Readonly<Record<string, unknown>>
}

/** Named parts of a loop as sentences with their ledgers; those with a switch show it. */
export function PartList({ title, path, group, kinds, fresh }: PartListProps) {
  const loop = useOpen((project) => project.document.loops[path.split('.')[1]!]!)
  const list = Object.entries((loop[group] ?? {}) as Readonly<Record<string, Part>>)
  return (
    <section aria-label={title} className="pt-1.5">
      <div className="flex items-center justify-between">
        <h4 className="font-semibold text-[12.5px]">{title}</h4>
        <AddOfKind to={title} kinds={kinds} onAdd={(kind) => edit(addPartTo(path, loop, group, kind, fresh).change)} />
      </div>
      {list.map(([name, part]) => {
        const kind = findKind(kinds, part)
        if (kind === undefined) return null
        const own = `${path}.${group}.${name}`
        const said = pieces(kind.says).flatMap((piece) => ('slot' in piece ? [piece.slot] : []))
        return (
          <div key={name} className="border-l-2 border-line pl-2 my-1">
            <div className="flex items-start gap-1">
              <div className="grow">
                <Sentence says={kind.says} path={own} className="text-[12.5px] leading-[22px]" />
              </div>
              {'on' in kind.slots && <SlotAt path={`${own}.on`} />}
              <Leave label={`Remove ${name}`} onClick={() => edit(removePartFrom(path, group, name))} />
            </div>
            <LedgerRows kind={kind} without={[...said, 'on']} path={own} />
          </div>
        )
      })}
    </section>
  )
}

export function Leave({ label, onClick }: { readonly label: string; readonly onClick: () => void }) {
  return (
    <button className="text-mist p-0.5" aria-label={label} onClick={onClick}>
      <X size={13} />
    </button>
  )
}
