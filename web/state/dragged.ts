import type { Edit } from './edits'
import { cancel, edit, preview } from './project'

/** Where a pointer is on the page, px. */
export type PointerPlace = Pick<PointerEvent, 'clientX' | 'clientY'>

/**
 * One edit for the whole way of the pointer; Escape, or a pointer that is lost, leaves all as it was. `atOnce`: it changes
 * something where it is pressed already.
 */
export function dragged(
  { currentTarget: target, pointerId, clientX, clientY }: React.PointerEvent,
  changeAt: (place: PointerPlace) => Edit,
  { atOnce = false }: { readonly atOnce?: boolean } = {},
): void {
  let change: Edit | undefined
  const show = (place: PointerPlace) => preview((change = changeAt(place)))
  const stop = new AbortController()
  const { signal } = stop
  // of the window: what is taken hold of may go while it is dragged
  const on = (type: 'pointermove' | 'pointerup' | 'pointercancel', tell: (event: PointerEvent) => void) =>
    window.addEventListener(type, (event) => event.pointerId === pointerId && tell(event), { signal, capture: true })
  const leave = () => {
    stop.abort()
    cancel()
  }
  target.setPointerCapture(pointerId)
  if (atOnce) show({ clientX, clientY })
  on('pointermove', (event) => {
    // nobody else has to know: panels of the page would measure themselves at every step
    event.stopPropagation()
    show(event)
  })
  on('pointerup', () => {
    stop.abort()
    if (change !== undefined) edit(change)
  })
  on('pointercancel', leave)
  window.addEventListener('keydown', ({ key }) => key === 'Escape' && leave(), { signal })
}
