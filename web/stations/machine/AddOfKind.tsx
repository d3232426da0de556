import { Plus } from 'lucide-react'
import type { AnyKind } from '@calm-hand/core/kinds'

interface AddOfKindProps {
  /** What it is added to, in words. */
  readonly to: string
  readonly kinds: readonly (AnyKind & { readonly label?: string })[]
  readonly onAdd: (kind: AnyKind) => void
}

/** Adds a part: at once where there is one kind, else after a choice. */
export function AddOfKind({ to, kinds, onAdd }: AddOfKindProps) {
  const name = `Add to ${to.toLowerCase()}`
  if (kinds.length === 1) {
    return (
      <button
        className="flex items-center gap-1 text-[12px] text-kelp font-semibold"
        aria-label={name}
        onClick={() => onAdd(kinds[0]!)}
      >
        <Plus size={13} /> Add
      </button>
    )
  }
  return (
    <label className="text-[12px] text-kelp font-semibold relative">
      <span className="flex items-center gap-1">
        <Plus size={13} /> Add
      </span>
      <select
        className="absolute inset-0 opacity-0 cursor-pointer"
        aria-label={name}
        value=""
        onChange={(event) => onAdd(kinds.find((one) => one.name === event.target.value)!)}
      >
        <option value="" disabled>
          Which?
        </option>
        {kinds.map((kind) => (
          <option key={kind.name} value={kind.name}>
            {kind.label}
          </option>
        ))}
      </select>
    </label>
  )
}
