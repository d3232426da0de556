import { useLayoutEffect, useRef } from 'react'
import type { ReactNode } from 'react'
import { useOpen } from '../state/project'

interface SteadyProps {
  readonly className?: string
  readonly children: ReactNode
}

/**
 * As high as what it holds; during a drag it only grows. A number that becomes a letter longer wraps a line and back, and what
 * stands beside would jump under the hand and be drawn anew each time.
 */
export function Steady({ className, children }: SteadyProps) {
  const isHeld = useOpen(({ gesture }) => gesture !== undefined)
  const place = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const element = place.current
    if (!isHeld || element === null) return
    let most = 0
    const seen = new ResizeObserver(() => {
      if (element.offsetHeight <= most) return
      most = element.offsetHeight
      element.style.minHeight = `${most}px`
    })
    seen.observe(element)
    return () => {
      seen.disconnect()
      element.style.minHeight = ''
    }
  }, [isHeld])
  return (
    <div ref={place} className={className}>
      {children}
    </div>
  )
}
