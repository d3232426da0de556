import { NavLink } from 'react-router'
import { useCourse } from './courseState'
import type { StationState } from './courseState'

/** The five stations in the order of work, joined by one line, each with its live state. */
export function Course() {
  const stations = useCourse()
  return (
    <nav aria-label="Course" className="h-full grid grid-cols-5">
      {stations.map((station, i) => (
        <StationLink
          key={station.name}
          station={station}
          last={i === stations.length - 1}
          nextStale={stations[i + 1]?.state === 'stale'}
        />
      ))}
    </nav>
  )
}

interface StationLinkProps {
  readonly station: StationState
  readonly last: boolean
  readonly nextStale: boolean
}

function StationLink({ station, last, nextStale }: StationLinkProps) {
  const { name, to, state, line } = station
  const tone = state === 'stale' ? 'text-ochre-text' : state === 'fails' ? 'text-coral-text' : 'text-mist'
  const content = (
    <>
      <span className="flex items-center gap-2 text-[13.5px] font-medium">
        <Pip state={state} />
        {name}
        {!last && (
          <span
            aria-hidden="true"
            className={`grow h-0 border-t-[1.5px] ${nextStale ? 'border-dashed border-ochre' : 'border-line-2'}`}
          />
        )}
      </span>
      <span className={`block pl-[19px] text-[12px] leading-4 truncate ${tone}`}>{line}</span>
    </>
  )
  const frame = 'min-w-0 h-full flex flex-col justify-center pr-2 border-b-2'
  if (to === undefined) {
    return (
      <span className={`${frame} border-transparent text-mist`} aria-disabled="true">
        {content}
      </span>
    )
  }
  return (
    <NavLink
      to={to}
      className={({ isActive }) =>
        `${frame} ${isActive ? 'border-kelp [&>span:first-child]:font-semibold' : 'border-transparent'}`
      }
    >
      {content}
    </NavLink>
  )
}

/** 11 px mark of a station's state; shape differs as well as colour. */
export function Pip({ state }: { readonly state: StationState['state'] }) {
  return (
    <svg width="11" height="11" viewBox="0 0 11 11" aria-hidden="true" className="shrink-0">
      {state === 'holds' && <circle cx="5.5" cy="5.5" r="5" fill="var(--kelp)" />}
      {state === 'stale' && (
        <g fill="none" stroke="var(--ochre)" strokeWidth="1.8">
          <circle cx="5.5" cy="5.5" r="4.4" />
          <path d="M5.5 3 V5.5 L7.2 6.6" strokeWidth="1.3" />
        </g>
      )}
      {state === 'fails' && (
        <g>
          <circle cx="5.5" cy="5.5" r="5" fill="var(--coral)" />
          <path d="M3.6 3.6 L7.4 7.4 M7.4 3.6 L3.6 7.4" stroke="var(--on-coral)" strokeWidth="1.3" />
        </g>
      )}
      {state === 'notBegun' && <circle cx="5.5" cy="5.5" r="4.6" fill="none" stroke="var(--mist)" strokeWidth="1.2" />}
    </svg>
  )
}
