interface WorkingProps {
  /** What is being done. */
  readonly words: string
  /** 0 to 1 */
  readonly share: number
  readonly secondsLeft?: number | undefined
  readonly onCancel: () => void
}

/** An account under way: how far it is, and the way to break it off. */
export function Working({ words, share, secondsLeft, onCancel }: WorkingProps) {
  return (
    <p className="note flex items-center gap-2 py-1" role="status">
      {words}
      <progress className="h-1.5 grow accent-kelp" value={share} max={1} aria-label="how much of the account is done" />
      {secondsLeft !== undefined && <span className="number">{Math.ceil(secondsLeft)} s left</span>}
      <button className="button small" onClick={onCancel}>
        Cancel
      </button>
    </p>
  )
}
