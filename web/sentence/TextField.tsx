import { Popover } from 'radix-ui'
import { cancel, edit, preview } from '../state/project'
import { setValue } from '../state/edits'
import { useTyped } from '../state/typing'
import { FormulaField } from './FormulaField'
import { SlotFoot } from './SlotFoot'

interface TextFieldProps {
  readonly path: string
  readonly label: string
  readonly value: string
  /** A formula is set in figures and said to be one. */
  readonly isFormula: boolean
  /** Words where there is none yet. */
  readonly empty?: string
  readonly problem?: string
}

/** Words or a formula in a sentence. Everything follows while it is typed; Enter takes it, Esc puts it back. */
export function TextField({ path, label, value, isFormula, empty = 'nothing', problem }: TextFieldProps) {
  const [text, setText] = useTyped(path)
  const shown = value === '' ? empty : value
  const change = (next: string) => setValue(path, next, `Set ${label}`)
  const follow = (next: string) => {
    setText(next)
    preview(change(next))
  }
  const leave = () => {
    cancel()
    setText(undefined)
  }
  const take = () => {
    if (text !== undefined) edit(change(text))
    setText(undefined)
  }
  return (
    <Popover.Root open={text !== undefined} onOpenChange={(open) => (open ? setText(value) : leave())}>
      <Popover.Trigger asChild>
        <button
          className={`slot text-left break-all ${isFormula ? 'number' : ''}`}
          data-path={path}
          data-invalid={problem !== undefined}
          aria-label={`${label}: ${shown}`}
          title={label}
        >
          {shown}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="popover p-3 w-[380px]" sideOffset={6} collisionPadding={8}>
          {isFormula ? (
            <FormulaField path={path} label={label} value={text ?? ''} problem={problem} onChange={follow} onTake={take} />
          ) : (
            <label className="block">
              <span className="note">{label}</span>
              <input
                autoFocus
                className="w-full text-[15px] h-9 bg-transparent border-b border-line-2 outline-none"
                aria-label={label}
                aria-invalid={problem !== undefined}
                value={text ?? ''}
                onChange={(event) => follow(event.target.value)}
                onKeyDown={(event) => event.key === 'Enter' && take()}
              />
            </label>
          )}
          <SlotFoot
            problem={problem}
            words={isFormula ? 'a formula; Enter takes, Esc leaves' : 'Enter takes, Esc leaves'}
            onTake={take}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
