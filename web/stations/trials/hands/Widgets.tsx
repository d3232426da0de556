import { useRef } from 'react'
import type { Part } from '@calm-hand/core/document'
import type { HandAxis } from '@calm-hand/core/simulation'
import { movedKey, useLive } from '../../../state/live'
import { letHandGo, moveHand, numberOfHand, pressHand, turnHand } from './handMotion'

export interface WidgetProps {
  readonly name: string
  readonly part: Part
  readonly label: string
  /** What each axis moves, and how much with its unit. */
  readonly ends: { readonly [axis in HandAxis]?: string }
  readonly isOn: boolean
}

/** Where a hand was moved: -1 to 1, or 0 and 1. */
function useMoved(name: string, axis: HandAxis, otherwise = 0): number {
  return useLive(({ moved }) => moved[movedKey(name, axis)] ?? otherwise)
}

/** px: sides of a pad, the height of a slider, and what of them the middle of a thumb does not reach. */
const [side, tall, rim] = [132, 132, 10]

interface Grip {
  readonly onPointerDown: (event: React.PointerEvent<SVGSVGElement>) => void
  readonly onPointerMove: (event: React.PointerEvent<SVGSVGElement>) => void
  readonly onPointerUp: (event: React.PointerEvent<SVGSVGElement>) => void
  readonly onPointerCancel: (event: React.PointerEvent<SVGSVGElement>) => void
}

/** A pointer that takes hold of hands in a box, and lets them go. */
function useGrip(isOn: boolean, axes: readonly HandAxis[], name: string, part: Part): Grip {
  const isHeld = useRef(false)
  const move = (event: React.PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect()
    const share = (at: number, from: number, size: number) => (2 * (at - from - rim)) / (size - 2 * rim) - 1
    for (const axis of axes)
      moveHand(
        name,
        axis,
        axis === 'across' ? share(event.clientX, box.left, box.width) : -share(event.clientY, box.top, box.height),
      )
  }
  const end = () => {
    if (!isHeld.current) return
    isHeld.current = false
    for (const axis of axes) letHandGo(name, part, axis)
  }
  return {
    onPointerDown: (event) => {
      if (!isOn) return
      event.currentTarget.setPointerCapture(event.pointerId)
      isHeld.current = true
      move(event)
    },
    onPointerMove: (event) => {
      if (isHeld.current) move(event)
    },
    onPointerUp: end,
    onPointerCancel: end,
  }
}

const place = (value: number, size: number) => rim + ((value + 1) / 2) * (size - 2 * rim)

/** A field in which a pointer moves two hands at once. */
export function PadWidget({ name, part, label, ends, isOn }: WidgetProps) {
  const [x, y] = [place(useMoved(name, 'across'), side), place(-useMoved(name, 'up'), side)]
  const grip = useGrip(isOn, ['across', 'up'], name, part)
  return (
    <svg
      width={side}
      height={side}
      role="img"
      aria-label={`${label}: across ${ends.across}, up ${ends.up}`}
      className={`rounded-md border border-line-2 bg-fog-2 touch-none ${isOn ? 'cursor-crosshair' : ''}`}
      {...grip}
    >
      {[1 / 3, 2 / 3].map((share) => (
        <rect
          key={share}
          x={side / 2 - (share * (side - 2 * rim)) / 2}
          y={side / 2 - (share * (side - 2 * rim)) / 2}
          width={share * (side - 2 * rim)}
          height={share * (side - 2 * rim)}
          fill="none"
          stroke="var(--line)"
        />
      ))}
      <path d={`M${side / 2} 0 V${side} M0 ${side / 2} H${side}`} stroke="var(--line-2)" />
      <path d={`M${side / 2} ${y} H${x} M${x} ${side / 2} V${y}`} stroke="var(--kelp)" strokeDasharray="2 3" />
      <Thumb x={x} y={y} isOn={isOn} />
    </svg>
  )
}

function Thumb({ x, y, isOn }: { readonly x: number; readonly y: number; readonly isOn: boolean }) {
  const ink = isOn ? 'var(--kelp)' : 'var(--line-2)'
  return (
    <g>
      <circle cx={x} cy={y} r="8.5" fill="var(--chalk)" stroke={ink} strokeWidth="2" />
      <circle cx={x} cy={y} r="3.5" fill={ink} />
    </g>
  )
}

/** A track along which a pointer moves one hand. */
export function SliderWidget({ name, part, label, ends, isOn }: WidgetProps) {
  const y = place(-useMoved(name, 'up'), tall)
  const grip = useGrip(isOn, ['up'], name, part)
  return (
    <svg
      width="64"
      height={tall}
      role="img"
      aria-label={`${label}: ${ends.up}`}
      className={`touch-none ${isOn ? 'cursor-ns-resize' : ''}`}
      {...grip}
    >
      <rect x="27" y={rim} width="10" height={tall - 2 * rim} rx="5" fill="var(--fog-2)" stroke="var(--line-2)" />
      <path d={`M32 ${tall / 2} V${y}`} stroke="var(--kelp)" strokeWidth="4" />
      {[-1, -0.5, 0, 0.5, 1].map((tick) => (
        <path key={tick} d={`M44 ${place(tick, tall)} h6`} stroke="var(--line-2)" />
      ))}
      <Thumb x={32} y={y} isOn={isOn} />
    </svg>
  )
}

interface PressedProps extends WidgetProps {
  /** What waits for it, in words. */
  readonly does: string
  readonly hint: string
}

const box = 'w-full h-[54px] rounded-md border px-2.5 py-1.5 text-left touch-none'

/** Pressed while it is held down. */
export function ButtonWidget({ name, label, does, hint, isOn }: PressedProps) {
  const isDown = useMoved(name, 'up') > 0.5
  const up = () => {
    if (useLive.getState().moved[movedKey(name, 'up')] === 1) pressHand(name, false, false)
  }
  return (
    <button
      className={`${box} ${isDown ? 'border-plum bg-plum-tint' : 'border-line-2'}`}
      aria-pressed={isDown}
      disabled={!isOn}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        pressHand(name, true, true)
      }}
      onPointerUp={up}
      onPointerCancel={up}
      // a key that presses it when it has the focus
      onKeyDown={({ key, repeat }) => (key === ' ' || key === 'Enter') && !repeat && pressHand(name, true, true)}
      onKeyUp={({ key }) => (key === ' ' || key === 'Enter') && up()}
    >
      <Pressed {...{ label, does, hint }} />
    </button>
  )
}

function Pressed({ label, does, hint }: Pick<PressedProps, 'label' | 'does' | 'hint'>) {
  return (
    <>
      <span className="flex items-center gap-1">
        <b className="grow font-semibold text-[13px] truncate">{label}</b>
        {hint !== '' && <span className="key">{hint}</span>}
      </span>
      <span className="note block truncate">{does}</span>
    </>
  )
}

/** On or off, and stays so. */
export function SwitchWidget({ name, label, does, hint, isOn }: PressedProps) {
  const on = useMoved(name, 'up') > 0.5
  return (
    <button
      className={`${box} ${on ? 'border-kelp bg-kelp-tint' : 'border-line-2'}`}
      role="switch"
      aria-checked={on}
      aria-label={label}
      disabled={!isOn}
      onClick={() => pressHand(name, !on, false)}
    >
      <Pressed label={label} hint={hint} does={`${does}, ${on ? 'on' : 'off'}`} />
    </button>
  )
}

/** A gain as a share of what it is designed to be. */
export function DialWidget({ name, part, label, isOn }: WidgetProps) {
  const at = useMoved(name, 'up', 1)
  const [least, most] = [numberOfHand(part, 'least'), numberOfHand(part, 'most')]
  return (
    <label className="block w-full">
      <span className="flex text-[13px]">
        <b className="grow font-semibold truncate">{label}</b>
        <span className="number text-kelp">{Math.round(100 * at)} %</span>
      </span>
      <input
        type="range"
        className="w-full accent-kelp"
        aria-label={`${label}, of its designed value`}
        aria-valuetext={`${Math.round(100 * at)} %`}
        {...{ min: least, max: most, value: at, step: 0.01, disabled: !isOn }}
        onChange={({ target }) => turnHand(name, Number(target.value), true)}
        onPointerUp={({ currentTarget }) => isOn && turnHand(name, Number(currentTarget.value), false)}
      />
      <span className="note flex">
        <span className="grow number">{Math.round(100 * least)}</span>
        <span className="number">{Math.round(100 * most)} %</span>
      </span>
    </label>
  )
}
