import { Plus } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { menuAction } from './menuAction'

interface Addable {
  readonly name: string
  readonly label: string
}

interface AddMenuProps<Kind extends Addable> {
  /** On the button; `says` where that alone does not tell. */
  readonly label: string
  readonly says?: string
  /** What can be added, under a heading where there are several. */
  readonly groups: readonly { readonly label?: string; readonly kinds: readonly Kind[] }[]
  readonly onAdd: (kind: Kind, group: number) => void
}

/** A button that offers what can be added. */
export function AddMenu<Kind extends Addable>({ label, says, groups, onAdd }: AddMenuProps<Kind>) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <button className="button small" aria-label={says}>
          <Plus size={13} /> {label}
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="popover z-40 p-1 max-h-[420px] overflow-auto" align="end" sideOffset={4}>
          {groups.map(({ label: heading, kinds }, group) => (
            <DropdownMenu.Group key={heading ?? group}>
              {heading !== undefined && <DropdownMenu.Label className="note px-2 pt-1">{heading}</DropdownMenu.Label>}
              {kinds.map((kind) => (
                <DropdownMenu.Item key={kind.name} className={menuAction} onSelect={() => onAdd(kind, group)}>
                  {kind.label}
                </DropdownMenu.Item>
              ))}
            </DropdownMenu.Group>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
