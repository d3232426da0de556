import { useEffect } from 'react'
import { useSearchParams } from 'react-router'

/** The station at which a place in the document is edited. */
export function stationOf(where: string): 'machine' | 'loops' | 'trials' {
  const [group] = where.split('.')
  if (group === 'trials' || group === 'scenes') return 'trials'
  return group === 'loops' || group === 'estimators' ? 'loops' : 'machine'
}

/** The address at which a place in the document is shown, chosen and in sight. */
export function placeAddress(project: string, where: string): string {
  const station = stationOf(where)
  const [group, name] = where.split('.')
  const own = station === group && name !== undefined ? `/${name}` : ''
  return `/${project}/${station}${own}?at=${encodeURIComponent(where)}`
}

/** Frames in which a part that is chosen should have unfolded. */
const patience = 60

/** Where the address asks for a place: has its part chosen, then brings its slot into sight and under the keys. */
export function useAskedPlace(choose?: (path: readonly string[]) => void): void {
  const [search, setSearch] = useSearchParams()
  const at = search.get('at')
  useEffect(() => {
    if (at === null) return
    choose?.(at.split('.'))
    let frame = 0
    let left = patience
    const look = () => {
      const slot = slotAt(at)
      if (slot === undefined && left-- > 0) frame = requestAnimationFrame(look)
      slot?.scrollIntoView({ block: 'center' })
      slot?.focus()
      if (slot !== undefined || left < 0) setSearch((now) => without(now, 'at'), { replace: true })
    }
    look()
    return () => cancelAnimationFrame(frame)
    // the choice is made once for each place that is asked for
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [at])
}

/** The slot itself, or the first of those within. */
function slotAt(path: string): HTMLElement | undefined {
  const slots = [...document.querySelectorAll<HTMLElement>('[data-path]')]
  return slots.find(({ dataset }) => dataset.path === path) ?? slots.find(({ dataset }) => dataset.path?.startsWith(`${path}.`))
}

function without(search: URLSearchParams, name: string): URLSearchParams {
  const next = new URLSearchParams(search)
  next.delete(name)
  return next
}
