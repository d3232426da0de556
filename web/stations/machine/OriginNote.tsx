import { partAt } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { originOf, originState } from '@calm-hand/core/machine'
import type { ShelfOrigin } from '@calm-hand/core/machine'
import { edit } from '../../state/project'
import { setValue } from '../../state/edits'
import { useShelf } from '../../state/kept'

/** Where a copy was taken from, and what has become of the original; one step takes its numbers again. */
export function OriginNote({ path, part }: { readonly path: string; readonly part: Part }) {
  const origin = part.origin as ShelfOrigin | undefined
  const { data: projects } = useShelf(origin !== undefined)
  if (origin === undefined) return null
  const original = projects?.find(({ id }) => id === origin.project)?.document
  const name = origin.path.split('.').at(-1)!
  const from = `From ${name} of ${original?.title ?? origin.project}`
  if (projects === undefined) return <p className="note pt-1">{from}.</p>
  const state = originState(origin, original)
  if (state === 'same') return <p className="note pt-1">{from}, unchanged there since.</p>
  if (state === 'gone') return <p className="note pt-1">{from}, which is not there any more.</p>
  return (
    <p className="text-[12px] text-ochre-text pt-1">
      {from}, which has changed since.{' '}
      <button
        className="button small"
        onClick={() => edit(setValue(path, takenAgain(part, partAt(original, origin.path)!, origin), `Take ${name} again`))}
      >
        Take it again
      </button>
    </p>
  )
}

/** Numbers of the original; names of what it acts on stay those of the copy. */
function takenAgain(copy: Part, original: Part, origin: ShelfOrigin): Part {
  const { origin: _older, ...values } = original
  const kept = Object.entries(copy).filter(([slot, value]) => typeof value === 'string' && slot !== 'kind')
  const joint = copy.joint !== null && typeof copy.joint === 'object' ? { joint: copy.joint } : {}
  return { ...values, ...Object.fromEntries(kept), ...joint, origin: originOf({ ...origin, part: original }) } as Part
}
