import { Check, Eye } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { toggled } from '../../state/toggled'

interface ShowMenuProps<Name extends string> {
  /** What can be drawn, with its words. */
  readonly names: Readonly<Record<Name, string>>
  readonly shown: ReadonlySet<Name>
  readonly onShow: (shown: ReadonlySet<Name>) => void
  /** Where its button stands. */
  readonly className?: string
}

/** What is drawn over a machine: frames, axes, centres, forces. */
export function ShowMenu<Name extends string>({ names, shown, onShow, className = 'left-3 bottom-3' }: ShowMenuProps<Name>) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <button className={`button small absolute bg-chalk ${className}`}>
          <Eye size={14} /> Show{shown.size > 0 ? ` ${shown.size}` : ''}
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="popover p-1 min-w-[220px]" sideOffset={6} collisionPadding={8}>
          {(Object.entries(names) as [Name, string][]).map(([name, words]) => (
            <DropdownMenu.CheckboxItem
              key={name}
              checked={shown.has(name)}
              onCheckedChange={() => onShow(toggled(shown, name))}
              onSelect={(event) => event.preventDefault()}
              className="flex items-center gap-2 px-2 h-8 rounded cursor-pointer outline-none data-[highlighted]:bg-kelp-tint"
            >
              <span className="w-4">
                <DropdownMenu.ItemIndicator>
                  <Check size={14} />
                </DropdownMenu.ItemIndicator>
              </span>
              {words}
            </DropdownMenu.CheckboxItem>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
