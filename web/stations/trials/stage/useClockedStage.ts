import { useCallback, useEffect, useRef } from 'react'
import type { RefObject } from 'react'
import type { StageHandle } from '../../../scene'
import { useClock } from '../../../state/clock'

interface ClockedStage {
  readonly stageRef: RefObject<StageHandle | undefined>
  /** Puts what is shown into the scene anew. */
  readonly rebuild: () => void
  /** Puts it where the clock has it. */
  readonly place: () => void
  /** Forgets what was in a scene that is gone. */
  readonly forget: () => void
}

/** A scene that follows the one clock, built anew when what it shows changes; gives what the stage calls when it is ready. */
export function useClockedStage({ stageRef, rebuild, place, forget }: ClockedStage): (handle: StageHandle) => () => void {
  const latest = useRef({ rebuild, place, forget })
  useEffect(() => {
    latest.current = { rebuild, place, forget }
  }, [rebuild, place, forget])
  useEffect(() => rebuild(), [rebuild])
  useEffect(() => useClock.subscribe(() => latest.current.place()), [])
  return useCallback(
    (handle: StageHandle) => {
      stageRef.current = handle
      latest.current.rebuild()
      return () => {
        stageRef.current = undefined
        latest.current.forget()
      }
    },
    [stageRef],
  )
}
