import { Check, Eye } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { annotationNames } from '../../../scene'
import type { AnnotationName } from '../../../scene'

interface ShowMenuProps {
  readonly shown: ReadonlySet<AnnotationName>
  readonly onShow: (shown: ReadonlySet<AnnotationName>) => void
}

/** What is drawn over the machine: frames, axes, centres, inertia, support, weights. */
export function ShowMenu({ shown, onShow }: ShowMenuProps) {
  const toggle = (name: AnnotationName) => {
    const next = new Set(shown)
    if (!next.delete(name)) next.add(name)
    onShow(next)
  }
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <button className="button small absolute left-3 bottom-3 bg-chalk">
          <Eye size={14} /> Show{shown.size > 0 ? ` ${shown.size}` : ''}
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="popover p-1 min-w-[220px]" sideOffset={6} collisionPadding={8}>
          {Object.entries(annotationNames).map(([name, words]) => (
            <DropdownMenu.CheckboxItem
              key={name}
              checked={shown.has(name as AnnotationName)}
              onCheckedChange={() => toggle(name as AnnotationName)}
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
