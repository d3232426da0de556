import { DropdownMenu } from 'radix-ui'
import { Check } from 'lucide-react'

interface ChoiceSlotProps {
  readonly label: string
  readonly value: string
  readonly options: Readonly<Record<string, string>>
  readonly onChoose: (value: string) => void
  readonly invalid?: boolean
  /** Document path, where it has one. */
  readonly path?: string
}

/** One of several words in a sentence. */
export function ChoiceSlot({ label, value, options, onChoose, invalid = false, path }: ChoiceSlotProps) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <button
          className="slot"
          data-path={path}
          data-invalid={invalid}
          aria-label={`${label}: ${options[value] ?? value}`}
          title={label}
        >
          {options[value] ?? value}
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className="popover p-1 min-w-[180px] max-h-[360px] overflow-auto"
          sideOffset={6}
          collisionPadding={8}
        >
          <DropdownMenu.Label className="note px-2 py-1">{label}</DropdownMenu.Label>
          <DropdownMenu.RadioGroup value={value} onValueChange={onChoose}>
            {Object.entries(options).map(([key, words]) => (
              <DropdownMenu.RadioItem
                key={key}
                value={key}
                className="flex items-center gap-2 px-2 h-8 rounded cursor-pointer outline-none data-[highlighted]:bg-kelp-tint"
              >
                <span className="w-4">
                  <DropdownMenu.ItemIndicator>
                    <Check size={14} />
                  </DropdownMenu.ItemIndicator>
                </span>
                {words}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
