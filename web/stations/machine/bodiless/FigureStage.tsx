import { Pause, Play } from 'lucide-react'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { Part } from '@calm-hand/core/document'
import { followed } from '@calm-hand/core/machine'
import { findColumn } from '@calm-hand/core/simulation'
import type { ModelReport } from '@calm-hand/core/simulation'
import { Stage3D, plainFigure } from '../../../scene'
import type { StageHandle } from '../../../scene'
import { withUnit } from '../../../units'

interface FigureStageProps {
  readonly name: string
  readonly figure: Part
  readonly report: ModelReport | undefined
}

type Place = Readonly<Record<(typeof followed)[number], number>>

/** Seconds that a look at the whole free motion takes. */
const lookSeconds = 8

/** The chosen figure where the free motion of the machine puts it; played, or set by hand. */
export function FigureStage({ name, figure, report }: FigureStageProps) {
  const [share, setShare] = useState(0)
  const [playing, setPlaying] = useState(false)
  const handle = useRef<StageHandle>(undefined)
  const place = placeAt(figure, report, share)
  const time = report === undefined ? 0 : (report.swing.time.at(-1) ?? 0) * share
  const size = figure.size as number
  const shape = figure.shape as string

  const draw = useCallback(() => {
    const stage = handle.current
    if (stage === undefined) return
    const old = stage.scene.getObjectByName(drawnName)
    if (old !== undefined) stage.scene.remove(old)
    // in lengths of the figure, so that a boat and a toy look alike
    const drawn = plainFigure(shape, 1, stage.palette)
    drawn.name = drawnName
    drawn.position.set(place.x / size, place.y / size, place.z / size)
    drawn.rotation.set(place.roll, place.pitch, place.yaw, 'ZYX')
    stage.scene.add(drawn)
    const before = stage.target.clone()
    stage.target.copy(drawn.position)
    stage.camera.position.add(drawn.position).sub(before) // the view goes with it
    stage.draw()
  }, [shape, size, place.x, place.y, place.z, place.roll, place.pitch, place.yaw])
  const drawNow = useRef(draw)
  useEffect(() => {
    drawNow.current = draw
    draw()
  }, [draw])
  const ready = useCallback((stage: StageHandle) => {
    handle.current = stage
    drawNow.current()
    return () => {
      handle.current = undefined
    }
  }, [])

  useEffect(() => {
    if (!playing) return
    let frame = 0
    let before = performance.now()
    const step = (now: number) => {
      const passed = (now - before) / 1000 / lookSeconds
      before = now
      setShare((at) => (at + passed) % 1)
      frame = requestAnimationFrame(step)
    }
    frame = requestAnimationFrame(step)
    return () => cancelAnimationFrame(frame)
  }, [playing])

  return (
    <div className="relative h-full min-h-0">
      <Stage3D label={`${name} in 3D`} ground={0} gridStep={1} camera={[1.5, -2, 1.2]} target={[0, 0, 0]} onReady={ready} />
      <div className="absolute left-4 right-4 top-2.5 flex items-center gap-3 text-[13px]">
        <button className="button small" aria-pressed={playing} onClick={() => setPlaying(!playing)}>
          {playing ? <Pause size={13} /> : <Play size={13} />} {playing ? 'Pause' : 'Play'}
        </button>
        <input
          type="range"
          className="w-[240px] accent-kelp"
          aria-label="moment of the free motion"
          aria-valuetext={`${time.toFixed(1)} s`}
          min={0}
          max={1}
          step={0.005}
          value={share}
          onChange={(event) => setShare(Number(event.target.value))}
        />
        <span className="number whitespace-nowrap">{time.toFixed(1)} s</span>
        <span className="note">a square is {withUnit(size, 'm', 3)}</span>
      </div>
    </div>
  )
}

const drawnName = 'figure'

function placeAt(figure: Part, report: ModelReport | undefined, share: number): Place {
  const value = (slot: (typeof followed)[number]) => {
    const signal = figure[slot] as string | undefined
    const values = report === undefined || !signal ? undefined : findColumn(report.swing as never, signal)
    return values?.[Math.round(share * (values.length - 1))] ?? 0
  }
  return Object.fromEntries(followed.map((slot) => [slot, value(slot)])) as Place
}
