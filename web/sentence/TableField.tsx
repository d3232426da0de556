import { Popover } from 'radix-ui'
import { mostTableCharacters, parseNumberRows } from '@calm-hand/core/formats'
import type { TableSlot } from '@calm-hand/core/kinds'
import { cancel, edit, preview } from '../state/project'
import { setValue } from '../state/edits'
import { useTyped } from '../state/typing'
import { FileButton } from '../frame/FileButton'
import { SlotFoot } from './SlotFoot'

interface TableFieldProps {
  readonly path: string
  readonly slot: TableSlot
  /** Numbers, and formulas as text. */
  readonly value: readonly (readonly (number | string)[])[]
  readonly problem?: string
}

/** A table or matrix in a sentence: typed or pasted as rows of numbers, taken as a whole. */
export function TableField({ path, slot, value, problem }: TableFieldProps) {
  const [text, setText] = useTyped(path)
  const rows = text === undefined ? undefined : parseNumberRows(text, slot.columns?.length)
  const wrong = rows?.kind === 'refused' ? `${rows.problems[0]!.what} ${rows.problems[0]!.remedy}` : problem
  const words = slot.columns === undefined ? `${value.length} × ${value[0]?.length ?? 0}` : `${value.length} points`
  const change = (next: readonly (readonly (number | string)[])[]) => setValue(path, next, `Set ${slot.label}`)
  const follow = (next: string) => {
    setText(next)
    const read = parseNumberRows(next, slot.columns?.length)
    if (read.kind === 'done') preview(change(read.value))
  }
  /** Of a file that is too long just so much that it is refused. */
  const read = async (file: File | undefined) => {
    if (file !== undefined) follow(await file.slice(0, mostTableCharacters + 1).text())
  }
  const leave = () => {
    cancel()
    setText(undefined)
  }
  const take = () => {
    if (rows?.kind !== 'done') return
    edit(change(rows.value))
    setText(undefined)
  }
  const head = slot.columns?.map(({ label, unit }) => (unit === '' ? label : `${label} [${unit}]`)).join(', ')
  return (
    <Popover.Root
      open={text !== undefined}
      onOpenChange={(open) => (open ? setText(value.map((row) => row.join(', ')).join('\n')) : leave())}
    >
      <Popover.Trigger asChild>
        <button
          className="slot"
          data-path={path}
          data-invalid={problem !== undefined}
          aria-label={`${slot.label}: ${words}`}
          title={slot.label}
        >
          {slot.columns === undefined ? words : `a table of ${words}`}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="popover p-3 w-[400px]" sideOffset={6} collisionPadding={8}>
          <label className="block">
            <span className="note">
              {slot.label}: {head ?? 'a row a line, numbers with commas, tabs or spaces between'}
            </span>
            <textarea
              autoFocus
              rows={Math.min(12, Math.max(4, value.length + 1))}
              wrap="off"
              className="number w-full text-[12.5px] leading-5 bg-transparent border border-line-2 rounded-md p-2 outline-none focus:border-kelp"
              aria-label={slot.label}
              aria-invalid={wrong !== undefined}
              value={text ?? ''}
              onChange={(event) => follow(event.target.value)}
            />
          </label>
          <FileButton className="mt-1.5" accept=".csv,.tsv,.txt" onFiles={(files) => void read(files?.[0])}>
            From a CSV file
          </FileButton>
          <SlotFoot problem={wrong} words="Paste from a spreadsheet; Esc leaves" onTake={take} disabled={rows?.kind !== 'done'} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
