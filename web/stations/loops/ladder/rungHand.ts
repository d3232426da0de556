import type { Handle, Rung } from '../../../compute/loops/rungs'
import { setValue } from '../../../state/edits'
import type { Edit } from '../../../state/edits'
import { cancel, edit, preview, useProject } from '../../../state/project'
import { askedAt, valueAt } from './rungs'
import type { LadderScale } from './scale'

interface RungHand {
  readonly onPointerDown: (event: React.PointerEvent) => void
  readonly onKeyDown: (event: React.KeyboardEvent) => void
}

/** Moves a rung by pointer or keys, which retunes its loop. */
export function rungHand({ name, handle, crossover }: Rung, scale: LadderScale, onChoose: (loop: string) => void): RungHand {
  const moved = (to: Handle, w: number) => setValue(to.path, valueAt(to, w), `Retune ${name}`)
  return {
    onPointerDown: (event) => {
      onChoose(name)
      if (handle === undefined) return
      const taken = askedAt(useProject.getState().project?.document, handle) ?? crossover
      // as large as it is when it is taken hold of: what is told beneath it makes it smaller and larger meanwhile
      const size = (event.currentTarget as SVGElement).ownerSVGElement?.getScreenCTM()?.d
      if (taken === undefined || size === undefined) return
      const from = event.clientY
      // by as much as the hand moves: its words stand aside of where it is
      dragged(event, (clientY) => moved(handle, scale.frequencyAt(scale.y(taken) + (clientY - from) / size)))
    },
    onKeyDown: (event) => {
      const direction = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0
      if (event.key === 'Enter') onChoose(name)
      if (direction === 0 || handle === undefined) return
      // quick keys outrun what is worked out: each goes on from where the last one asked
      const asked = askedAt(useProject.getState().project?.document, handle) ?? crossover
      if (asked === undefined) return
      event.preventDefault()
      onChoose(name)
      edit(moved(handle, asked * 1.01 ** (direction * (event.shiftKey ? 10 : 1))))
    },
  }
}

/** One edit for the whole way of the pointer; Escape, or a pointer that is lost, leaves all as it was. */
function dragged({ currentTarget: target, pointerId }: React.PointerEvent, changeAt: (clientY: number) => Edit): void {
  let change: Edit | undefined
  const stop = new AbortController()
  const { signal } = stop
  // of the window: the rung itself may go while it is dragged
  const on = (type: 'pointermove' | 'pointerup' | 'pointercancel', tell: (event: PointerEvent) => void) =>
    window.addEventListener(type, (event) => event.pointerId === pointerId && tell(event), { signal, capture: true })
  const leave = () => {
    stop.abort()
    cancel()
  }
  target.setPointerCapture(pointerId)
  on('pointermove', (event) => {
    // nobody else has to know: panels of the page would measure themselves at every step
    event.stopPropagation()
    change = changeAt(event.clientY)
    preview(change)
  })
  on('pointerup', () => {
    stop.abort()
    if (change !== undefined) edit(change)
  })
  on('pointercancel', leave)
  window.addEventListener('keydown', ({ key }) => key === 'Escape' && leave(), { signal })
}
