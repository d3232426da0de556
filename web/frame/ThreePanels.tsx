import { safeLocal } from '../state/safeStorage'
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels'

interface ThreePanelsProps {
  /** Remembers the sizes under this name. */
  readonly name: string
  readonly index: React.ReactNode
  readonly stage: React.ReactNode
  readonly card: React.ReactNode
  /** Widths of index and card, px at first. */
  readonly widths: readonly [number, number]
}

/** index, stage and card, touching, with a hairline between that can be dragged. */
export function ThreePanels({ name, index, stage, card, widths }: ThreePanelsProps) {
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({ id: `calm-hand.${name}`, storage: safeLocal })
  return (
    <Group orientation="horizontal" className="h-full" defaultLayout={defaultLayout} onLayoutChanged={onLayoutChanged}>
      <Panel id="index" defaultSize={`${widths[0]}px`} minSize="240px" maxSize="460px">
        <aside className="panel" aria-label="Index" tabIndex={0}>
          {index}
        </aside>
      </Panel>
      <Divider />
      <Panel id="stage" minSize="420px">
        <main className="h-full min-h-0 min-w-0">{stage}</main>
      </Panel>
      <Divider />
      <Panel id="card" defaultSize={`${widths[1]}px`} minSize="260px" maxSize="640px">
        <aside className="panel" aria-label="Card" tabIndex={0}>
          {card}
        </aside>
      </Panel>
    </Group>
  )
}

function Divider() {
  return <Separator className="w-px bg-line hover:bg-kelp data-[separator=active]:bg-kelp" />
}
