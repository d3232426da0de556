import { useLayoutEffect } from 'react'
import { offerActions } from '../../frame/actions'

interface ViewBarProps<View extends string> {
  readonly views: readonly View[]
  readonly view: View
  readonly onLook: (view: View) => void
  /** Beside the views: how it is saved. */
  readonly children: React.ReactNode
}

/** Named camera views, the next one by V, and the ways to save it. */
export function ViewBar<View extends string>({ views, view, onLook, children }: ViewBarProps<View>) {
  useLayoutEffect(
    () =>
      offerActions('machineView', [
        { name: 'Next view', keys: 'V', group: 'Machine', does: () => onLook(views[(views.indexOf(view) + 1) % views.length]!) },
        { name: 'Whole machine', keys: 'W', group: 'Machine', does: () => onLook(view) },
      ]),
    [views, view, onLook],
  )
  return (
    <div className="absolute right-3 bottom-3 flex gap-1 bg-chalk rounded-md border border-line p-0.5">
      {views.map((one) => (
        <button
          key={one}
          className={`button small border-transparent ${one === view ? 'chosen' : ''}`}
          aria-pressed={one === view}
          onClick={() => onLook(one)}
        >
          {one}
        </button>
      ))}
      {children}
    </div>
  )
}
