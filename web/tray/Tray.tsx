import { X } from 'lucide-react'
import { roleOfLetter, strokes } from '../chart'
import { TextField } from '../sentence'
import { takeLoops, unpin } from '../state/edits'
import { edit, useOpen } from '../state/project'
import { useRuns } from '../state/runs'

interface TrayProps {
  readonly hint: string
  /** Letters left out of charts and 3D; nothing where showing is not a choice. */
  readonly hidden?: ReadonlySet<string>
  readonly onToggle?: (letter: string) => void
}

/** Pinned runs and designs with their colours: shown or hidden, taken back, let go. */
export function Tray({ hint, hidden, onToggle }: TrayProps) {
  const tray = useOpen((project) => project.document.tray)
  const records = useRuns((runs) => runs.records)
  const gone = useRuns((runs) => runs.gone)
  const entries = Object.entries(tray)
  return (
    <section className="bg-fog-2 border-t border-line px-4 py-2.5 mt-auto" aria-label="Tray">
      <div className="flex justify-between items-baseline pb-1">
        <h3>Tray</h3>
        <span className="note">{hint}</span>
      </div>
      {entries.length === 0 && <p className="note">Nothing pinned yet. P keeps what you see for comparison.</p>}
      <ul>
        {entries.map(([letter, pin]) => (
          <li key={letter} className="flex items-center gap-2 min-h-7 text-[12.5px]">
            <Chip
              letter={letter}
              hollow={hidden?.has(letter) ?? false}
              {...(onToggle === undefined ? {} : { onPress: () => onToggle(letter) })}
            />
            <span className="grow">
              <TextField path={`tray.${letter}.title`} label={`name of ${letter}`} value={pin.title} isFormula={false} />
              {records[pin.run] === undefined && (
                <span className="note">
                  {' '}
                  {gone.has(pin.run) ? 'its run is gone: take it back and run it again' : 'its run is on the way'}
                </span>
              )}{' '}
              <TextField
                path={`tray.${letter}.note`}
                label={`note on ${letter}`}
                value={pin.note ?? ''}
                empty="a note"
                isFormula={false}
              />
            </span>
            <button
              className="text-kelp font-semibold"
              onClick={() => edit(takeLoops(letter, pin.loops))}
              title="Put the loops back as they were"
            >
              take back
            </button>
            <button
              className="size-6 grid place-items-center text-mist"
              aria-label={`Unpin ${letter}`}
              onClick={() => edit(unpin(letter))}
            >
              <X size={14} />
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

interface ChipProps {
  readonly letter: string
  readonly hollow?: boolean
  readonly onPress?: () => void
}

/** The letter of a pinned run on its colour. */
export function Chip({ letter, hollow = false, onPress }: ChipProps) {
  const color = `var(${strokes[roleOfLetter(letter)].color})`
  const style = hollow ? { border: `1.5px solid ${color}`, color } : { background: color, color: 'var(--chalk)' }
  const look = 'size-[18px] grid place-items-center rounded text-[11px] font-semibold shrink-0'
  if (onPress === undefined) {
    return (
      <span className={look} style={style}>
        {letter}
      </span>
    )
  }
  return (
    <button className={look} style={style} aria-pressed={!hollow} aria-label={`Show ${letter}`} onClick={onPress}>
      {letter}
    </button>
  )
}
