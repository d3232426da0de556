import { rotorPlaces } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'

type Point = readonly [number, number, number]

/** Seen from ahead and above: the directions of the axes on the page. */
function onPage([x, y, z]: Point): [number, number] {
  return [0.86 * y + 0.34 * x, 0.3 * x - 0.22 * y - 0.92 * z]
}

/** A line drawing of a lifter, made from its document. */
export function MachineDrawing({ machine }: { readonly machine: Part }) {
  const rotors = machine.rotors as unknown as { count: number; armLength: number; height: number; radius: number }
  const scale = 62 / (rotors.armLength + rotors.radius)
  const at = (point: Point) => onPage(point).map((value) => value * scale) as [number, number]
  const places = rotorPlaces(rotors.count).map(({ angle }): Point => [
    rotors.armLength * Math.cos(angle),
    rotors.armLength * Math.sin(angle),
    rotors.height,
  ])
  const far = [...places].sort((a, b) => a[0] - b[0])
  const path = (points: readonly Point[], closed: boolean) =>
    `M${points
      .map((point) =>
        at(point)
          .map((v) => v.toFixed(1))
          .join(' '),
      )
      .join(' L')}${closed ? ' Z' : ''}`
  const circle = (centre: Point, radius: number, height = 0, count = 40): Point[] =>
    Array.from({ length: count }, (_, i) => [
      centre[0] + radius * Math.cos((i * 2 * Math.PI) / count),
      centre[1] + radius * Math.sin((i * 2 * Math.PI) / count),
      centre[2] + height,
    ])
  const hull = circle([0, 0, 0], 0.13, 0.05, 6)
  const base = circle([0, 0, 0], 0.13, -0.05, 6)
  return (
    <svg
      viewBox="-80 -52 160 108"
      width="200"
      height="135"
      aria-hidden="true"
      fill="none"
      stroke="var(--edge)"
      strokeWidth="1.1"
      strokeLinejoin="round"
    >
      <g opacity="0.9">
        {[-0.12, 0.12].map((y) => (
          <path
            key={y}
            d={
              path(
                [
                  [-0.02, y * 0.6, -0.04],
                  [0, y, -0.17],
                ],
                false,
              ) +
              path(
                [
                  [-0.17, y, -0.17],
                  [0.17, y, -0.17],
                ],
                false,
              )
            }
          />
        ))}
      </g>
      {far.map((place, i) => (
        <g key={i}>
          <path d={path([[place[0] * 0.3, place[1] * 0.3, 0], place], false)} strokeWidth="2.4" />
          <path d={path(circle(place, rotors.radius, 0.02), true)} fill="var(--mat-b)" fillOpacity="0.75" />
          <path d={path(circle(place, 0.02, 0.03, 12), true)} fill="var(--mat-dark)" />
        </g>
      ))}
      <path d={path(base, true)} fill="var(--mat-b)" />
      {hull.map((point, i) => (
        <path key={i} d={path([point, hull[(i + 1) % 6]!, base[(i + 1) % 6]!, base[i]!], true)} fill="var(--mat-a)" />
      ))}
      <path d={path(hull, true)} fill="var(--mat-top)" />
    </svg>
  )
}
