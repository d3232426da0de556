import { Popover } from 'radix-ui'
import { cancel, edit, preview } from '../state/project'
import { setValues } from '../state/edits'
import { parseTyped, shownUnit, toShown, withUnit } from '../units'
import type { Typed, UnitSaid } from '../units'
import { useTyped } from '../state/typing'
import { SlotFoot } from './SlotFoot'

interface NumberFieldProps {
  readonly path: string
  /** Other places that get the same value. */
  readonly also?: readonly string[]
  readonly label: string
  readonly unit: UnitSaid
  readonly value: number
  /** What it is worked out from, where it is a formula. */
  readonly formula?: string
  readonly problem?: string
  readonly disabled?: boolean
  readonly digits?: number
  /** Shown instead of the number with its unit. */
  readonly words?: string
  /** What the value would bring, shown while it is typed. */
  readonly effect?: React.ReactNode
}

/** A number in a sentence or ledger. Everything follows while it is typed; Enter takes it, Esc puts it back. */
export function NumberField({
  path,
  also = [],
  label,
  unit,
  value,
  formula,
  problem,
  disabled,
  digits = 4,
  words,
  effect,
}: NumberFieldProps) {
  const [text, setText] = useTyped(path)
  const shown = words ?? withUnit(value, unit, digits)
  const typed = text === undefined ? undefined : parseTyped(text, unit)
  const wrong = typed?.kind === 'wrong' ? typed.what : undefined

  const change = (read: Exclude<Typed, { kind: 'wrong' }>) =>
    setValues([path, ...also], valueOf(read), also.length === 0 ? `Set ${label}` : `Set ${label} of ${also.length + 1}`)
  const start = () => setText(formula ?? (Number.isFinite(value) ? String(Number(toShown(value, unit).toPrecision(10))) : ''))
  const follow = (next: string) => {
    setText(next)
    const read = parseTyped(next, unit)
    if (read.kind !== 'wrong') preview(change(read))
  }
  const leave = () => {
    cancel()
    setText(undefined)
  }
  const take = () => {
    if (typed === undefined || typed.kind === 'wrong') return
    edit(change(typed))
    setText(undefined)
  }
  const stepBy = (direction: number, coarse: boolean) => {
    if (typed?.kind !== 'number' || text === undefined) return
    const decimals = /\.(\d*)/.exec(text)?.[1]?.length ?? 0
    const next = Number.parseFloat(text) + direction * 10 ** -decimals * (coarse ? 10 : 1)
    follow(`${next.toFixed(decimals)}${/[a-z°]+.*$/i.exec(text)?.[0] ?? ''}`)
  }

  return (
    <Popover.Root open={text !== undefined} onOpenChange={(open) => (open ? start() : leave())}>
      <Popover.Trigger asChild>
        <button
          className="slot number"
          data-path={path}
          data-invalid={problem !== undefined}
          disabled={disabled}
          aria-label={`${label}: ${shown}`}
          title={formula === undefined ? label : `${label} ${formula}`}
        >
          {shown}
          {formula !== undefined && <span className="text-mist font-normal pl-1">ƒ</span>}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="popover p-3 w-[260px]" sideOffset={6} collisionPadding={8}>
          <label className="block">
            <span className="note">
              {label}
              {shownUnit(unit) === '' ? '' : `, ${shownUnit(unit)}`}
            </span>
            <input
              autoFocus
              className="number w-full text-[20px] h-9 bg-transparent border-b border-line-2 outline-none"
              aria-label={label}
              aria-invalid={wrong !== undefined || problem !== undefined}
              value={text ?? ''}
              onFocus={(event) => event.target.select()}
              onChange={(event) => follow(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === 'Enter') take()
                else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
                  event.preventDefault()
                  stepBy(event.key === 'ArrowUp' ? 1 : -1, event.shiftKey)
                }
              }}
            />
          </label>
          <SlotFoot
            problem={wrong ?? problem}
            words={
              typed?.kind === 'formula'
                ? `a formula, in ${typeof unit === 'string' ? unit || 'plain numbers' : 'SI units'}`
                : 'Enter takes, Esc leaves'
            }
            onTake={take}
            disabled={wrong !== undefined}
          >
            {effect !== undefined && <div className="pt-2 text-[12.5px]">{effect}</div>}
          </SlotFoot>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function valueOf(typed: Exclude<Typed, { kind: 'wrong' }>): number | string {
  return typed.kind === 'number' ? typed.value : typed.text
}
