import type { AnyKind, Slot } from '@calm-hand/core/kinds'
import { SlotAt } from '../../sentence'
import { useSlotValue } from '../../sentence/useSlotValue'
import { digitsOf, shownUnit } from '../../units'
import { LedgerRow } from './LedgerRow'

interface LedgerRowsProps {
  readonly kind: AnyKind
  /** Slots that are shown elsewhere. */
  readonly without: readonly string[]
  readonly path: string
}

/** Every slot of a kind that is no part of its own, as a row. */
export function LedgerRows({ kind, without, path }: LedgerRowsProps) {
  return Object.entries(kind.slots)
    .filter(([slot]) => !without.includes(slot))
    .flatMap(([slot, definition]) => rowsOf(slot, definition, path))
}

function rowsOf(slot: string, definition: Slot, path: string) {
  if (definition.type === 'vector') {
    // three in a row: a place, a direction, the moments, the products
    return definition.components
      .map((_, i) => i)
      .filter((i) => i % 3 === 0)
      .map((from) => (
        <VectorRow
          key={slot + from}
          path={`${path}.${slot}`}
          from={from}
          label={definition.label}
          components={definition.components}
        />
      ))
  }
  return definition.type === 'part' || definition.type === 'parts' ? [] : [<LedgerRow key={slot} path={`${path}.${slot}`} />]
}

interface VectorRowProps {
  readonly path: string
  readonly from: number
  readonly label: string
  readonly components: readonly string[]
}

/** Three components of a vector in one row. */
function VectorRow({ path, from, label, components }: VectorRowProps) {
  const { slot, worked, problem } = useSlotValue(path)
  const unit = slot?.type === 'vector' ? slot.unit : ''
  const names = components.slice(from, from + 3)
  return (
    <>
      <div className="flex items-baseline justify-between gap-2 min-h-[24px] text-[12.5px]">
        <span>
          {label} <span className="note whitespace-nowrap">{names.join(' ')}</span>
        </span>
        <span className="flex items-baseline gap-1.5">
          {names.map((name, i) => (
            <SlotAt
              key={name}
              path={path}
              component={from + i}
              words={digitsOf((worked as readonly number[] | undefined)?.[from + i] ?? NaN, unit, 3)}
            />
          ))}
          <span className="note number w-[38px]">{shownUnit(unit)}</span>
        </span>
      </div>
      {problem !== undefined && from === 0 && (
        <p role="alert" className="text-[12px] leading-4 text-coral-text pb-1.5">
          {problem.what} {problem.remedy}
        </p>
      )}
    </>
  )
}
