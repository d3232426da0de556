import { SlotAt } from '../../sentence'
import { useSlotValue } from '../../sentence/useSlotValue'

interface LedgerRowProps {
  readonly path: string
  readonly name?: string
  readonly component?: number
}

/** Name, number with unit, and under it what is wrong with it, if anything. */
export function LedgerRow({ path, name, component }: LedgerRowProps) {
  const { slot, problem } = useSlotValue(path)
  const shown = problem !== undefined && (component === undefined || component === 0)
  return (
    <>
      <div className="flex items-baseline justify-between gap-2 min-h-[24px] text-[12.5px]">
        <span>{name ?? slot?.label}</span>
        <SlotAt path={path} {...(component === undefined ? {} : { component })} />
      </div>
      {shown && (
        <p role="alert" className="text-[12px] leading-4 text-coral-text pb-1.5">
          {problem.what} {problem.remedy}
        </p>
      )}
    </>
  )
}
