import { Command } from 'cmdk'
import { useNavigate } from 'react-router'
import { allActions } from './actions'
import { showOverlay, useOverlay } from './overlays'

/** Everything that can be done, by name. */
export function CommandSearch() {
  const open = useOverlay((state) => state.open === 'search')
  const navigate = useNavigate()
  if (!open) return null
  const actions = allActions((to) => void navigate(to))
  const groups = [...new Set(actions.map(({ group }) => group))]
  return (
    <Command.Dialog
      open
      onOpenChange={(next) => showOverlay(next ? 'search' : undefined)}
      label="Command search"
      overlayClassName="fixed inset-0 z-40 bg-black/25"
      contentClassName="popover fixed z-50 left-1/2 top-24 w-[520px] -translate-x-1/2"
    >
      <Command.Input
        autoFocus
        placeholder="What do you want to do?"
        className="w-full px-4 h-12 border-b border-line bg-transparent outline-none text-[15px]"
      />
      <Command.List className="max-h-[380px] overflow-auto p-2">
        <Command.Empty className="px-3 py-4 text-mist">Nothing by that name.</Command.Empty>
        {groups.map((group) => (
          <Command.Group
            key={group}
            heading={group}
            className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-[11px] [&_[cmdk-group-heading]]:text-mist"
          >
            {actions
              .filter((action) => action.group === group)
              .map(({ name, keys, does }) => (
                <Command.Item
                  key={name}
                  value={name}
                  onSelect={() => {
                    showOverlay(undefined)
                    does()
                  }}
                  className="flex items-center justify-between px-3 h-8 rounded-md cursor-pointer data-[selected=true]:bg-kelp-tint"
                >
                  {name}
                  {keys !== undefined && <span className="key">{keys}</span>}
                </Command.Item>
              ))}
          </Command.Group>
        ))}
      </Command.List>
    </Command.Dialog>
  )
}
