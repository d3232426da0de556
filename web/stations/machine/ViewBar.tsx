import { Camera } from 'lucide-react'
import { useLayoutEffect } from 'react'
import { offerActions } from '../../frame/actions'

interface ViewBarProps<View extends string> {
  readonly views: readonly View[]
  readonly view: View
  readonly onLook: (view: View) => void
  readonly onSave: () => void
}

/** Named camera views, the next one by V, and the picture as a file. */
export function ViewBar<View extends string>({ views, view, onLook, onSave }: ViewBarProps<View>) {
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
      <button className="button small border-transparent" aria-label="Save the 3D view as PNG" onClick={onSave}>
        <Camera size={15} />
      </button>
    </div>
  )
}
