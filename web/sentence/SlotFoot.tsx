interface SlotFootProps {
  /** What is wrong with what is typed. */
  readonly problem: string | undefined
  readonly words: string
  readonly onTake: () => void
  readonly disabled?: boolean
  readonly children?: React.ReactNode
}

/** The end of a slot's popover: what is wrong, what the keys do, and the button that takes it. */
export function SlotFoot({ problem, words, onTake, disabled = false, children }: SlotFootProps) {
  return (
    <>
      {problem !== undefined && (
        <p role="alert" className="text-[12.5px] leading-4 text-coral-text pt-2">
          {problem}
        </p>
      )}
      {children}
      <div className="flex justify-between items-center pt-2">
        <span className="note">{words}</span>
        <button className="button small" onClick={onTake} disabled={disabled}>
          Take
        </button>
      </div>
    </>
  )
}
