import { DropdownMenu } from 'radix-ui'
import { menuItem } from './menuItem'
import { Chosen, SlotMenu } from './SlotMenu'

interface ChoiceFieldProps {
  readonly label: string
  readonly value: string
  readonly options: Readonly<Record<string, string>>
  readonly onChoose: (value: string) => void
  readonly invalid?: boolean
  /** Document path, where it has one. */
  readonly path?: string
}

/** One of several words in a sentence. */
export function ChoiceField({ label, value, options, onChoose, invalid = false, path }: ChoiceFieldProps) {
  return (
    <SlotMenu label={label} words={options[value] ?? value} invalid={invalid} {...(path === undefined ? {} : { path })}>
      <DropdownMenu.RadioGroup value={value} onValueChange={onChoose}>
        {Object.entries(options).map(([key, words]) => (
          <DropdownMenu.RadioItem key={key} value={key} className={menuItem}>
            <Chosen />
            {words}
          </DropdownMenu.RadioItem>
        ))}
      </DropdownMenu.RadioGroup>
    </SlotMenu>
  )
}
