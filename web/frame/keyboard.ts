import { useEffect } from 'react'
import { useNavigate } from 'react-router'
import { allActions } from './actions'

/** Runs the action whose keys were pressed, unless a slot took them, a person is typing, or a picker is open. */
export function useKeyboard(): void {
  const navigate = useNavigate()
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.defaultPrevented) return
      const named = nameOf(event)
      const typing =
        event.target instanceof HTMLElement &&
        event.target.closest('input:not([type=range]), textarea, [contenteditable=true]') !== null
      const floating = document.querySelector('[data-radix-popper-content-wrapper], [role=dialog]') !== null
      // what is typed has an undo of its own
      if ((typing && named !== 'Ctrl K') || (floating && !named.startsWith('Ctrl'))) return
      // Space presses a focused button and arrows move what has the focus: those keep their meaning
      if (
        named === 'Space' &&
        event.target instanceof HTMLElement &&
        event.target.closest('button, a, [role=switch], [role=slider]') !== null
      )
        return
      const action = allActions((to) => void navigate(to)).find(({ keys }) => keys === named)
      if (action === undefined) return
      event.preventDefault()
      action.does()
    }
    window.addEventListener('keydown', pressed)
    return () => window.removeEventListener('keydown', pressed)
  }, [navigate])
}

function nameOf(event: KeyboardEvent): string {
  const key = event.key === ' ' ? 'Space' : event.key.length === 1 ? event.key.toUpperCase() : event.key
  const command = event.ctrlKey || event.metaKey
  const shift = event.shiftKey && command
  return [command ? 'Ctrl' : '', shift ? 'Shift' : '', key].filter((part) => part !== '').join(' ')
}
