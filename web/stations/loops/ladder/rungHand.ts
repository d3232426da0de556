import type { Handle, Rung } from '../../../compute/loops/rungs'
import { setValue } from '../../../state/edits'
import { dragged } from '../../../state/dragged'
import { edit, useProject } from '../../../state/project'
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
      dragged(event, ({ clientY }) => moved(handle, scale.frequencyAt(scale.y(taken) + (clientY - from) / size)))
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
