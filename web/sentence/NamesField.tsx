import { DropdownMenu } from 'radix-ui'
import { namesIn } from '@calm-hand/core/kinds'
import { menuItem } from './menuItem'
import { Chosen, SlotMenu } from './SlotMenu'

interface NamesFieldProps {
  readonly label: string
  /** Names with blanks between, in their order. */
  readonly value: string
  readonly options: Readonly<Record<string, string>>
  readonly onChange: (value: string) => void
  readonly invalid: boolean
  readonly path: string
}

/** Several of some words in a sentence, in the order in which they were chosen. */
export function NamesField({ label, value, options, onChange, invalid, path }: NamesFieldProps) {
  const chosen = namesIn(value)
  const words = chosen.map((name) => options[name] ?? name).join(', ') || 'none'
  const toggle = (name: string) =>
    onChange((chosen.includes(name) ? chosen.filter((one) => one !== name) : [...chosen, name]).join(' '))
  // what is named but not there can be taken out
  const strangers = chosen.filter((name) => !(name in options)).map((name) => [name, name] as const)
  return (
    <SlotMenu label={label} words={words} invalid={invalid} path={path}>
      {[...Object.entries(options), ...strangers].map(([name, said]) => (
        <DropdownMenu.CheckboxItem
          key={name}
          checked={chosen.includes(name)}
          // several are chosen one after the other
          onSelect={(event) => event.preventDefault()}
          onCheckedChange={() => toggle(name)}
          className={menuItem}
        >
          <Chosen />
          {said}
        </DropdownMenu.CheckboxItem>
      ))}
    </SlotMenu>
  )
}
