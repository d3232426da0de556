import { useEffect, useState } from 'react'
import { setValue } from '../../../state/edits'
import { edit } from '../../../state/project'
import { firstPad, heardFrom } from './useGamePad'
import { keyNamed } from './useHandKeys'

interface ListenProps {
  readonly path: string
  /** What it is for: `key to the left`. */
  readonly label: string
  readonly value: string | number | undefined
  readonly hears: 'key' | 'axis' | 'button'
}

/** A key, or an axis or button of a game pad: chosen by pressing it. Esc leaves it as it is, Delete takes it away. */
export function Listen({ path, label, value, hears }: ListenProps) {
  const [isListening, setListening] = useState(false)
  const shown = isListening ? (hears === 'key' ? 'press it' : 'move it') : value === undefined || value === '' ? 'none' : value
  const take = (next: string | number | undefined) => {
    setListening(false)
    if (next !== value) edit(setValue(path, next, `Set the ${label}`))
  }
  useEffect(() => {
    if (!isListening) return
    const pressed = (event: KeyboardEvent) => {
      event.preventDefault()
      event.stopImmediatePropagation()
      if (event.key === 'Escape') setListening(false)
      else if (event.key === 'Delete' || event.key === 'Backspace') take(undefined)
      else if (hears === 'key' && !['Shift', 'Control', 'Alt', 'Meta', 'Tab'].includes(event.key)) take(keyNamed(event))
    }
    window.addEventListener('keydown', pressed, true)
    let frame = 0
    const before = firstPad()
    const look = () => {
      const heard = hears === 'key' ? undefined : heardFrom(before, hears)
      if (heard === undefined) frame = requestAnimationFrame(look)
      else take(heard)
    }
    look()
    return () => {
      window.removeEventListener('keydown', pressed, true)
      cancelAnimationFrame(frame)
    }
    // listens from when it was asked to until it has heard
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isListening])
  return (
    <button
      className="slot number"
      data-path={path}
      data-state={isListening ? 'open' : 'closed'}
      aria-label={`${label}: ${shown}`}
      title={`${label}; Delete takes it away`}
      onClick={() => setListening(!isListening)}
      onBlur={() => setListening(false)}
    >
      {shown}
    </button>
  )
}
