import { Pause, Play } from 'lucide-react'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { findColumn } from '@calm-hand/core/simulation'
import type { ModelReport } from '@calm-hand/core/simulation'
import { Stage3D, placeFigure, plainFigure } from '../../../scene'
import type { StageHandle } from '../../../scene'
import { withUnit } from '../../../units'

interface FigureStageProps {
  readonly name: string
  readonly machine: Part
  readonly figure: Part
  readonly report: ModelReport | undefined
}

/** Seconds that a look at the whole free motion takes. */
const lookSeconds = 8

/** The chosen figure where the free motion of the machine puts it; played, or set by hand. */
export function FigureStage({ name, machine, figure, report }: FigureStageProps) {
  const [share, setShare] = useState(0)
  const [playing, setPlaying] = useState(false)
  const handle = useRef<StageHandle>(undefined)
  const time = report === undefined ? 0 : (report.swing.time.at(-1) ?? 0) * share
  const size = figure.size as number

  const draw = useCallback(() => {
    const stage = handle.current
    if (stage === undefined) return
    const old = stage.scene.getObjectByName(drawnName)
    if (old !== undefined) stage.scene.remove(old)
    const drawn = plainFigure(figure.shape as string, 1, stage.palette)
    drawn.name = drawnName
    placeFigure(drawn, figure, (signal) => valueAt(report, signal, share))
    stage.scene.add(drawn)
    const before = stage.target.clone()
    stage.target.copy(drawn.position)
    stage.camera.position.add(drawn.position).sub(before) // the view goes with it
    stage.draw()
  }, [figure, report, share])
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
      <Stage3D
        label={`${labelOf(machine, name)} in 3D`}
        ground={0}
        gridStep={1}
        camera={[1.5, -2, 1.2]}
        target={[0, 0, 0]}
        onReady={ready}
      />
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

/** A signal of the free motion at a share of it; 0 where there is none. */
function valueAt(report: ModelReport | undefined, signal: string, share: number): number {
  const values = report === undefined ? undefined : findColumn(report.swing as never, signal)
  return values?.[Math.round(share * (values.length - 1))] ?? 0
}
