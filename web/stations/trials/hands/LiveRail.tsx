import { Pause, Play, StepForward } from 'lucide-react'
import { goOnLive, pauseLive, stepLive, useLive } from '../../../state/live'

const speeds = [0.1, 0.25, 0.5, 1, 2]
/** s */
const oneStep = 0.02

/** The clock of a trial that a person has in hand: it waits, goes step by step, slower or faster, and says how well it keeps up. */
export function LiveRail() {
  const phase = useLive((live) => live.phase)
  const speed = useLive((live) => live.speed)
  const isGoing = phase.kind === 'going'
  const canMove = isGoing || phase.kind === 'paused'
  return (
    <footer className="bg-chalk border-t border-line px-4 flex items-center gap-3" aria-label="Clock by hand">
      <button
        className="button main px-3 w-[104px]"
        disabled={!canMove}
        onClick={() => (isGoing ? pauseLive() : goOnLive())}
        title="Space"
      >
        {isGoing ? <Pause size={15} /> : <Play size={15} />} {isGoing ? 'Pause' : 'Go on'}
      </button>
      <button className="button" disabled={!canMove} onClick={() => stepLive(oneStep)}>
        <StepForward size={14} /> Step <span className="note number">{1000 * oneStep} ms</span>
      </button>
      <div className="flex border border-line-2 rounded-md overflow-hidden">
        {speeds.map((one) => (
          <button
            key={one}
            className={`px-2 h-7 text-[12.5px] number ${one === speed ? 'bg-kelp-tint text-kelp font-semibold' : ''}`}
            aria-pressed={one === speed}
            disabled={!canMove}
            onClick={() => goOnLive(one)}
          >
            {one}×
          </button>
        ))}
      </div>
      <Told />
    </footer>
  )
}

/** A clock that is this much slower than asked says so. */
const slow = 0.97

function Told() {
  const picture = useLive((live) => live.picture)
  const speed = useLive((live) => live.speed)
  const isGoing = useLive((live) => live.phase.kind === 'going')
  const handMs = useLive((live) => live.handMs)
  if (picture === undefined) return null
  const { t, factor, load, lost, clockError } = picture
  const isSlow = isGoing && factor < slow * speed && lost > 0
  return (
    <>
      <span className="number whitespace-nowrap" data-testid="cursor">
        {t.toFixed(2)} s
      </span>
      <span className="text-[12.5px] grow text-right" data-testid="true-time">
        {isSlow ? (
          <b className="font-semibold text-coral-text">
            This machine does not keep up: it runs at <span className="number">{factor.toFixed(2)}</span> of true time.
          </b>
        ) : (
          isGoing && (
            <>
              Runs at <span className="number text-kelp">{factor.toFixed(3)}</span> of true time; computing takes{' '}
              <span className="number">{Math.round(100 * load)} %</span> of it. Clock off by{' '}
              <span className="number">{Math.abs(clockError).toFixed(1)} ms</span>
              {handMs !== undefined && (
                <>
                  , hand to picture <span className="number">{Math.round(handMs)} ms</span>
                </>
              )}
              .
            </>
          )
        )}
      </span>
    </>
  )
}
