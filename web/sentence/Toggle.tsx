import { Switch } from 'radix-ui'

interface ToggleProps {
  readonly label: string
  readonly on: boolean
  readonly onChange: (on: boolean) => void
}

/** A switch, 28 x 16; on and off differ in fill and place. */
export function Toggle({ label, on, onChange }: ToggleProps) {
  return (
    <Switch.Root
      aria-label={label}
      checked={on}
      onCheckedChange={onChange}
      className="relative w-7 h-4 shrink-0 rounded-full border border-mist data-[state=checked]:bg-kelp data-[state=checked]:border-kelp before:absolute before:-inset-2 before:content-['']"
    >
      <Switch.Thumb className="block size-2.5 translate-x-[2px] rounded-full bg-mist data-[state=checked]:translate-x-[14px] data-[state=checked]:bg-on-kelp" />
    </Switch.Root>
  )
}
