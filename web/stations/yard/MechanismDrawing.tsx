import { composed, unrotated } from '@calm-hand/core/algebra'
import type { Placement } from '@calm-hand/core/algebra'
import { assemble, bodiesOf, bodyPoses, closedPose, numbersOf, placement, seatPose } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'

type Point = readonly [number, number, number]

interface Face {
  readonly points: readonly (readonly [number, number])[]
  readonly depth: number
  readonly fill: string
}

const sides = 14
const unmoved: Placement = { rotation: unrotated, position: [0, 0, 0] }

/** Seen from ahead, aside and above: page x, page y, and how near it is. */
function onPage([x, y, z]: Point): [number, number, number] {
  return [0.82 * x + 0.57 * y, 0.24 * x - 0.35 * y - 0.9 * z, -0.5 * x + 0.7 * y - 0.5 * z]
}

/** A line drawing of a mechanism at its start, made from its shapes: far faces first. */
export function MechanismDrawing({ machine }: { readonly machine: Part }) {
  const faces = facesOf(machine).sort((a, b) => b.depth - a.depth)
  const all = faces.flatMap(({ points }) => points)
  const [left, right] = [Math.min(...all.map(([x]) => x)), Math.max(...all.map(([x]) => x))]
  const [top, bottom] = [Math.min(...all.map(([, y]) => y)), Math.max(...all.map(([, y]) => y))]
  const scale = Math.min(190 / (right - left || 1), 130 / (bottom - top || 1))
  const place = ([x, y]: readonly [number, number]) =>
    `${(scale * (x - (left + right) / 2)).toFixed(1)} ${(scale * (y - (top + bottom) / 2)).toFixed(1)}`
  return (
    <svg
      viewBox="-100 -70 200 140"
      width="200"
      height="140"
      aria-hidden="true"
      stroke="var(--edge)"
      strokeWidth="0.9"
      strokeLinejoin="round"
    >
      {faces.map(({ points, fill }, i) => (
        <path key={i} d={`M${points.map(place).join(' L')} Z`} fill={fill} />
      ))}
    </svg>
  )
}

function facesOf(machine: Part): Face[] {
  const read = numbersOf(machine)
  const assembly = assemble(machine, read)
  const poses = bodyPoses(assembly.tree, closedPose(machine, assembly.start, []) ?? assembly.start)
  const poseOf = (body: string) => {
    const seat = assembly.seats.get(body)
    return seat === undefined ? unmoved : seatPose(seat, poses)
  }
  const bodies = Object.entries(bodiesOf(machine))
  const faces = bodies.flatMap(([name, body]) =>
    Object.entries(body.shapes ?? {}).flatMap(([shape, part]) => {
      const at = composed(poseOf(name), placement(part, `bodies.${name}.shapes.${shape}`, read))
      return shapeFaces(part).map(({ points, fill }) => faceOf(points, at, fill))
    }),
  )
  if (faces.length > 0) return faces
  // meshes only, which are not here: lines from joint to joint
  return bodies.map(([name, { joint }]) =>
    faceOf(
      [poseOf(joint.on), poseOf(name)].map(({ position }) => position as Point),
      unmoved,
      'none',
    ),
  )
}

function faceOf(points: readonly Point[], { rotation, position }: Placement, fill: string): Face {
  const rows = rotation as readonly [Point, Point, Point]
  const at = position as Point
  const page = points.map((p) =>
    onPage(rows.map((row, i) => at[i]! + row[0] * p[0] + row[1] * p[1] + row[2] * p[2]) as unknown as Point),
  )
  return {
    points: page.map(([x, y]) => [x, y] as const),
    depth: page.reduce((sum, [, , depth]) => sum + depth, 0) / page.length,
    fill,
  }
}

function shapeFaces(part: Part): { points: Point[]; fill: string }[] {
  switch (part.kind) {
    case 'box': {
      const [x, y, z] = (part.size as readonly number[]).map((length) => length / 2) as [number, number, number]
      const quad = (a: Point, b: Point, c: Point, d: Point, fill: string) => ({ points: [a, b, c, d], fill })
      return [-1, 1].flatMap((s) => [
        quad([s * x, -y, -z], [s * x, y, -z], [s * x, y, z], [s * x, -y, z], 'var(--mat-b)'),
        quad([-x, s * y, -z], [x, s * y, -z], [x, s * y, z], [-x, s * y, z], 'var(--mat-a)'),
        quad([-x, -y, s * z], [x, -y, s * z], [x, y, s * z], [-x, y, s * z], 'var(--mat-top)'),
      ])
    }
    case 'cylinder':
      return cylinderFaces(part.radius as number, (part.length as number) / 2)
    case 'capsule':
      return cylinderFaces(part.radius as number, (part.length as number) / 2 + (part.radius as number) * 0.8)
    case 'sphere':
      return cylinderFaces((part.radius as number) * 0.8, (part.radius as number) * 0.8)
    default:
      return []
  }
}

function cylinderFaces(radius: number, half: number): { points: Point[]; fill: string }[] {
  const rim = (z: number) =>
    Array.from({ length: sides }, (_, i): Point => {
      const angle = (i * 2 * Math.PI) / sides
      return [radius * Math.cos(angle), radius * Math.sin(angle), z]
    })
  const [low, high] = [rim(-half), rim(half)]
  const wall = low.map((point, i) => {
    const next = (i + 1) % sides
    return { points: [point, low[next]!, high[next]!, high[i]!], fill: 'var(--mat-a)' }
  })
  return [...wall, { points: low, fill: 'var(--mat-b)' }, { points: high, fill: 'var(--mat-top)' }]
}
