import { Tooltip } from 'radix-ui'
import { phrases } from './phrases'
import type { PhraseName } from './phrases'

interface PhraseProps {
  readonly of: PhraseName
  /** How the word stands in its sentence, where that is not as in the phrase book. */
  readonly children?: React.ReactNode
}

/** A word of ours where it stands: pointed at, or reached by Tab, it says what it means. */
export function Phrase({ of, children }: PhraseProps) {
  const { word, means } = phrases[of]
  return (
    <Tooltip.Provider delayDuration={250}>
      <Tooltip.Root>
        <Tooltip.Trigger asChild>
          <span
            tabIndex={0}
            className="underline decoration-dotted decoration-line-2 underline-offset-3 cursor-help"
            data-phrase={of}
          >
            {children ?? word}
          </span>
        </Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content
            className="popover z-50 max-w-[300px] px-3 py-2 text-[12.5px] leading-[18px]"
            sideOffset={4}
            collisionPadding={8}
          >
            <b className="font-semibold">{word}</b> {means}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  )
}
