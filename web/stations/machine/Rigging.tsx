import type { Part } from '@calm-hand/core/document'
import { rotorPlaces } from '@calm-hand/core/machine'
import { withUnit } from '../../units'

interface RiggingProps {
  readonly machine: Part
  readonly chosen: string
  readonly onChoose: (part: string) => void
}

const width = 300
const hub = { x: 150, y: 118 }

/** The machine as a line sketch from ground upward: bodies as beads, rotors as lenses, sensors as diamonds. */
export function Rigging({ machine, chosen, onChoose }: RiggingProps) {
  const bodies = Object.entries(machine.bodies as Readonly<Record<string, Part>>).filter(([name]) => name !== 'hull')
  const sensors = Object.entries(machine.sensors as Readonly<Record<string, Part>>)
  const rotors = machine.rotors as unknown as { count: number }
  const freedoms = 6
  return (
    <section className="section" aria-label="Rigging">
      <div className="flex items-baseline gap-2 pb-1">
        <h2>Rigging</h2>
        <span className="note">
          {bodies.length + 1} bodies, {freedoms} freedoms
        </span>
      </div>
      <svg viewBox={`0 0 ${width} 262`} className="w-full" fontSize="11.5">
        <line
          x1={hub.x}
          y1={hub.y}
          x2={hub.x}
          y2="228"
          stroke="var(--ink)"
          strokeWidth="1.6"
          strokeDasharray="1 5"
          strokeLinecap="round"
        />
        <path d="M138 240 L150 226 L162 240 Z M126 240 H174" fill="none" stroke="var(--ink)" strokeWidth="1.4" />
        {Array.from({ length: 6 }, (_, i) => (
          <line key={i} x1={130 + i * 8} y1="241" x2={124 + i * 8} y2="248" stroke="var(--ink)" />
        ))}
        <text x="118" y="244" textAnchor="end" fill="var(--mist)">
          ground
        </text>
        <text x="140" y="206" textAnchor="end" fill="var(--mist)">
          free: 3 moves, 3 turns
        </text>
        {sensors.map(([name], i) => {
          const x = 60 + i * (180 / Math.max(1, sensors.length - 1 || 1))
          return (
            <g key={name}>
              <path d={`M${hub.x} ${hub.y - 10} V24 H${x}`} fill="none" stroke="var(--slate)" strokeWidth="1.2" />
              <path
                d={`M${x} 18.5 l5.5 5.5 l-5.5 5.5 l-5.5 -5.5 Z`}
                fill="var(--chalk)"
                stroke="var(--slate)"
                strokeWidth="1.5"
              />
              <text x={x} y="13" textAnchor="middle" fill="var(--slate)">
                {name}
              </text>
            </g>
          )
        })}
        {rotorPlaces(rotors.count).map(({ angle, turns }, i) => {
          const [x, y] = [hub.x + 98 * Math.cos(angle - Math.PI / 2), hub.y - 34 * Math.sin(angle - Math.PI / 2) - 6]
          return (
            <g key={i}>
              <line x1={hub.x} y1={hub.y} x2={x} y2={y} stroke="var(--ink)" strokeWidth={chosen === 'rotors' ? 2.6 : 1.8} />
              <ellipse cx={x} cy={y - 9} rx="20" ry="5" fill="var(--ochre-tint)" stroke="var(--ochre)" strokeWidth="1.4" />
              <path
                d={turns === 1 ? `M${x + 9} ${y - 9} h-17 m4 -3 l-4 3 l4 3` : `M${x - 9} ${y - 9} h17 m-4 -3 l4 3 l-4 3`}
                fill="none"
                stroke="var(--ink)"
                strokeWidth="1"
              />
              <text x={x + (x < hub.x ? -26 : 26)} y={y - 5} textAnchor="middle" fill="var(--ochre-text)" className="number">
                {i + 1}
              </text>
            </g>
          )
        })}
        {bodies.map(([name, body], i) => {
          const [x, y] = [hub.x + 26 + (i % 2) * 10, hub.y + 38 + i * 18]
          return (
            <g key={name} onClick={() => onChoose(name)} className="cursor-pointer">
              <path
                d={`M${hub.x} ${hub.y} L${x} ${y}`}
                stroke={chosen === name ? 'var(--kelp)' : 'var(--ink)'}
                strokeWidth={chosen === name ? 2.6 : 1.4}
                fill="none"
              />
              <circle cx={x} cy={y} r="4.5" fill={chosen === name ? 'var(--kelp)' : 'var(--ink)'} />
              <text x={x + 10} y={y + 4} fill="var(--ink)">
                {name}{' '}
                <tspan className="number" fontSize="11" fill="var(--mist)">
                  {withUnit(body.mass as number, 'kg', 3)}
                </tspan>
              </text>
            </g>
          )
        })}
        <circle
          cx={hub.x}
          cy={hub.y}
          r="6"
          fill={chosen === 'hull' ? 'var(--kelp)' : 'var(--ink)'}
          onClick={() => onChoose('hull')}
          className="cursor-pointer"
        />
        {chosen === 'hull' && <circle cx={hub.x} cy={hub.y} r="11" fill="none" stroke="var(--kelp)" strokeWidth="1.4" />}
      </svg>
    </section>
  )
}
