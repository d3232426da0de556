import { name, table } from '../../kinds'
import type { Kind, Slots } from '../../kinds'

const lists = {
  pushes: name({ label: 'pushes', of: 'pushes' }),
  drives: name({ label: 'drives', of: 'drives' }),
}

/** How pushes are spread over drives. */
export interface AllocationKind<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
}

export function defineAllocation<const S extends Slots>(kind: AllocationKind<S>): AllocationKind<S> {
  return kind
}

/** The same share of every push for every drive, always. */
export const fixedMix = defineAllocation({
  name: 'fixedMix',
  label: 'by a fixed mix',
  says: 'Spreads {pushes} over {drives} by a fixed mix.',
  about:
    'The least sum of squared efforts that gives all pushes (right inverse Bᵀ (B Bᵀ)⁻¹ of what a unit of each effort gives, worked out exactly where the machine starts, from the numbers its software knows; common practice, no source). What a drive cannot give is lost.',
  slots: lists,
})

/** The same, as long as drives can; then by what counts most. */
export const withinLimits = defineAllocation({
  name: 'withinLimits',
  label: 'within limits',
  says: 'Spreads {pushes} over {drives} within their limits; they count {counts}.',
  about:
    'The fixed mix where all drives can give theirs. Where not, each push is missed the less the more it counts: least squares of the misses within the limits of the drives, a torque measured by its lever. Working sets, Lawson & Hanson, Solving Least Squares Problems, 1974 (from memory).',
  slots: {
    ...lists,
    counts: table({ label: 'how much each push counts', fill: [[1]] }),
  },
})

/** Shares as they are typed. */
export const typedMix = defineAllocation({
  name: 'typedMix',
  label: 'by a table',
  says: 'Spreads {pushes} over {drives} by {mix}.',
  about: 'A row a drive, a column a push: what a push of 1 asks of the drive, in the unit of its effort.',
  slots: {
    ...lists,
    mix: table({ label: 'shares', fill: [[1]] }),
  },
})

/** In the order people see. */
export const allocations: readonly AllocationKind[] = [fixedMix, withinLimits, typedMix]
