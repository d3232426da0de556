import { Tabs } from 'radix-ui'

interface LookTabsProps<Look extends string> {
  /** Words of each look, in the order people see. */
  readonly looks: Readonly<Record<Look, string>>
  readonly look: Look
  readonly onLook: (look: Look) => void
  readonly content: Readonly<Record<Look, React.ReactNode>>
}

/** Ways to look at what a machine does: one at a time, each a panel of its own. */
export function LookTabs<Look extends string>({ looks, look, onLook, content }: LookTabsProps<Look>) {
  const names = Object.keys(looks) as Look[]
  return (
    <Tabs.Root value={look} onValueChange={(next) => onLook(next as Look)} className="h-full flex flex-col bg-chalk">
      <Tabs.List className="flex gap-1 px-3 pt-1.5" aria-label="What it does">
        {names.map((name) => (
          <Tabs.Trigger
            key={name}
            value={name}
            className="button small border-transparent data-[state=active]:bg-kelp-tint data-[state=active]:text-kelp"
          >
            {looks[name]}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {names.map((name) => (
        <Tabs.Content key={name} value={name} className="grow min-h-0">
          {content[name]}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  )
}
