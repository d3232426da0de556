import { add, mul, neg, sqrt, sub } from '../expression'
import type { Scalar } from '../expression'
import {
  applied,
  cross,
  dividedBy,
  dot,
  forceOutOf,
  minus,
  plus,
  scaled,
  spatialPlus,
  transposedRows,
  unrotated,
} from '../algebra'
import type { Placement, Spatial, Vector } from '../algebra'
import { assert, partsIn } from '../document'
import type { Part } from '../document'
import { findKind, partOf } from '../kinds'
import { placedPoint, seatPose, structuralVector } from './assemble'
import type { Assembly } from './assemble'
import { drawnDensity } from './effects/airDrag'
import type { GroundBelow, MechanismLayers, Scene, Touchable } from './effects/effect'
import { formulaValue } from './formulaValue'
import { shapes } from './shapes'
import type { Shape } from './shapes'
import type { Sight } from './sight'
import { placementOf } from './solids'
import type { Surface } from './solidSurface'
import type { View } from './readings'
import type { Read } from './read'
import { surroundings } from './surroundings'
import type { Outside, SurroundingKind } from './surroundings/surrounding'
import type { Water } from './surroundings/water'
import { bodyAccelerations, motionOf } from './tree'

/** m/s² */
function downwards({ tree }: Assembly): Scalar {
  return neg(tree.gravity[2])
}

/** A coordinate by its position's name, where it is one of a joint whose positions and speeds go in pairs. */
export function coordinateOf(
  { positions, speeds, pairs }: Assembly,
  state: { q: readonly Scalar[]; speeds: readonly Scalar[] },
  name: string,
): { position: Scalar; speed: Scalar; index: number } {
  const at = positions.findIndex((one) => one.name === name)
  const index = pairs[at]
  assert(index !== undefined && speeds[index] !== undefined, `The coordinate ${name} of a checked mechanism has a speed.`)
  return { position: state.q[at]!, speed: state.speeds[index]!, index }
}

/** A number of a part, 0 folded away; what is left out has the value of its slot. */
export function numberIn(part: Part, path: string, read: Read): (slot: string) => Scalar {
  return (slot) => (part[slot] === 0 ? 0 : read(`${path}.${slot}`))
}

function slotsOf(part: Part, path: string, read: Read): Pick<Scene, 'number' | 'vector' | 'rows'> {
  return {
    number: numberIn(part, path, read),
    vector: (slot) => structuralVector(part[slot] as readonly number[], `${path}.${slot}`, read),
    rows: (slot) =>
      (part[slot] as readonly (readonly number[])[]).map((row, i) => row.map((_, j) => read(`${path}.${slot}.${i}.${j}`))),
  }
}

/** What a part of the surroundings reads. Only a trial in which it goes on by chance says so, with a field `now`. */
export function outsideOf(part: Part, path: string, read: Read, around: Pick<Outside, 'time' | 'gravity'>): Outside {
  const now: Vector = part.now === undefined ? [0, 0, 0] : [read(`${path}.now.0`), read(`${path}.now.1`), read(`${path}.now.2`)]
  return { ...slotsOf(part, path, read), ...around, now }
}

/** One push or twist of a force or drive on a body, world axes. */
export interface Load {
  /** Document path of what pushes. */
  readonly path: string
  readonly body: string
  readonly at: Vector
  readonly force: Vector
  readonly moment: Vector
}

/** How what stands around is looked at while a program runs. */
export interface Looking {
  /** The surface of an obstacle that is a mesh, as a point in its axes sees it. */
  readonly mesh: (obstacle: string, point: Vector) => Surface
  /** The nearest few of all surfaces that a point sees: no more than can be touched at once. */
  readonly nearest: (point: Vector, seenFrom: (point: Vector) => readonly Surface[]) => readonly Surface[]
}

/** Bodies in the world, and what effects put on them. */
export class World {
  readonly efforts: Scalar[]
  readonly forces: (Spatial | undefined)[]
  private readonly moved: ReturnType<typeof motionOf>
  private readonly outside: { kind: SurroundingKind; part: Part; reads: Outside }[]
  private readonly batteries = new Map<string, { voltage: Scalar; drawn: Scalar }>()

  constructor(
    private readonly machine: Part,
    private readonly read: Read,
    private readonly layers: MechanismLayers,
    readonly assembly: Assembly,
    private readonly state: { q: readonly Scalar[]; speeds: readonly Scalar[] },
    private readonly poses: readonly Placement[],
    private readonly time: Scalar,
    /** Told of every push, where someone looks. */
    private readonly onLoad?: (load: Load) => void,
    private readonly looking?: Looking,
  ) {
    this.efforts = assembly.speeds.map(() => 0)
    this.forces = assembly.tree.bodies.map(() => undefined)
    this.moved = motionOf(assembly.tree, state)
    this.outside = Object.entries(partsIn(machine.surroundings)).map(([name, part]) => ({
      kind: findKind(surroundings, part)!,
      part,
      reads: outsideOf(part, `surroundings.${name}`, read, { time, gravity: downwards(assembly) }),
    }))
  }

  offer(battery: string, voltage: Scalar): void {
    this.batteries.set(battery, { voltage, drawn: 0 })
  }

  drawnFrom(battery: string): Scalar {
    return this.batteries.get(battery)?.drawn ?? 0
  }

  scene(path: string, part: Part, states: readonly Scalar[], input: Scalar, drawn: Scalar = 0): Scene {
    const whole = this.wholeScene(path, part, states, input, drawn)
    const share = this.passedOn(path, part)
    if (share === 1) return whole
    return {
      ...whole,
      push: (body, at, force) => whole.push(body, at, scaled(force, share)),
      twist: (body, torque) => whole.twist(body, scaled(torque, share)),
      pushOwn: (body, at, force, torque) => whole.pushOwn(body, at, scaled(force, share), scaled(torque, share)),
      effort: (coordinate, effort) => whole.effort(coordinate, mul(effort, share)),
    }
  }

  /** The share of what an effect gives that arrives: only a trial in which it fails says so, with a field `gives`. */
  passedOn(path: string, part: Part): Scalar {
    return part.gives === undefined ? 1 : this.read(`${path}.gives`)
  }

  private wholeScene(path: string, part: Part, states: readonly Scalar[], input: Scalar, drawn: Scalar): Scene {
    return {
      ...this.slots(path, part),
      formula: (slot, more = {}) =>
        formulaValue(part[slot] as string, (name) => more[name] ?? this.named(name), this.machine, this.read),
      point: (body, at) => this.point(body, at),
      direction: (body, slot) =>
        this.direction(body, structuralVector(part[slot] as readonly number[], `${path}.${slot}`, this.read)),
      ownDirection: (slot) => unit(structuralVector(part[slot] as readonly number[], `${path}.${slot}`, this.read)),
      turning: (body) => this.turning(body),
      axes: (body) => seatPose(this.assembly.seats.get(body)!, this.poses).rotation,
      coordinate: (name) => coordinateOf(this.assembly, this.state, name),
      density: (height) => this.density(height),
      wind: (position) => this.wind(position),
      ground: (x, y) => this.ground(x, y),
      touchable: (position, level) => this.touchable(position, level),
      water: (x, y) => this.water(x, y),
      gravity: downwards(this.assembly),
      supply: (name) => {
        const battery = this.batteries.get(name)!
        return { voltage: battery.voltage, draw: (current) => (battery.drawn = add(battery.drawn, current)) }
      },
      drawn,
      states,
      input,
      push: (body, at, force) => {
        this.onLoad?.({ path, body, at: this.point(body, at).position, force, moment: [0, 0, 0] })
        this.push(body, at, force)
      },
      twist: (body, torque) => {
        this.onLoad?.({ path, body, at: this.point(body, [0, 0, 0]).position, force: [0, 0, 0], moment: torque })
        this.twist(body, torque)
      },
      pushOwn: (body, at, force, torque) => {
        if (this.onLoad !== undefined) {
          const { rotation } = seatPose(this.assembly.seats.get(body)!, this.poses)
          const [there, about] = [force, torque].map((one) => applied(rotation, one)) as [Vector, Vector]
          this.onLoad({ path, body, at: this.point(body, at).position, force: there, moment: about })
        }
        this.pushOwn(body, at, force, torque)
      },
      effort: (name, effort) => {
        const { index } = coordinateOf(this.assembly, this.state, name)
        this.efforts[index] = add(this.efforts[index]!, effort)
      },
      has: (layer) => this.layers.has(layer),
    }
  }

  /** What readings see beside a scene. */
  view(): Pick<View, 'gravity'> {
    return { gravity: this.assembly.tree.gravity }
  }

  /** What only sensors see, once the accelerations are known. */
  accelerated(accelerations: readonly Scalar[]): Pick<Sight, 'turningInBody' | 'specificForceInBody'> {
    const own = bodyAccelerations(this.assembly.tree, this.moved, accelerations)
    const into = (body: string, vector: Vector) =>
      applied(transposedRows(seatPose(this.assembly.seats.get(body)!, this.poses).rotation), vector)
    return {
      turningInBody: (body) => into(body, this.turning(body)),
      specificForceInBody: (body, at) => {
        const seat = this.assembly.seats.get(body)!
        const { gravity } = this.assembly.tree
        if (seat.body < 0) return into(body, minus([0, 0, 0], gravity))
        const arm = placedPoint(seat.place, at)
        const { angular, linear } = this.moved[seat.body]!.velocity
        const { angular: turned, linear: carried } = own[seat.body]!
        const velocity = plus(linear, cross(angular, arm))
        // spatial to ordinary acceleration of the point: a + w' x r + w x v_point
        const acceleration = plus(plus(carried, cross(turned, arm)), cross(angular, velocity))
        const inWorld = minus(applied(this.poses[seat.body]!.rotation, acceleration), gravity)
        return into(body, inWorld)
      },
    }
  }

  private slots(path: string, part: Part): Pick<Scene, 'number' | 'vector' | 'rows'> {
    return slotsOf(part, path, this.read)
  }

  /** A coordinate, a speed, or the time. */
  private named(name: string): Scalar | undefined {
    if (name === 't') return this.time
    const at = this.assembly.positions.findIndex((one) => one.name === name)
    if (at >= 0) return this.state.q[at]
    return this.state.speeds[this.assembly.speeds.findIndex((one) => one.name === name)]
  }

  private density(height: Scalar): Scalar {
    const air = this.outside.find(({ kind }) => kind.density !== undefined)
    return air === undefined ? drawnDensity : air.kind.density!(air.reads, height)
  }

  private wind(position: Vector): Vector {
    if (!this.layers.has('gusts')) return [0, 0, 0]
    return this.outside
      .filter(({ kind }) => kind.wind !== undefined)
      .map(({ kind, reads }) => kind.wind!(reads, position))
      .reduce<Vector>(plus, [0, 0, 0])
  }

  private water(x: Scalar, y: Scalar): Water | undefined {
    const given = this.outside.find(({ kind }) => kind.water !== undefined)
    return given?.kind.water!(given.reads, x, y)
  }

  private ground(x: Scalar, y: Scalar): GroundBelow {
    const below = this.outside.find(({ kind }) => kind.ground !== undefined)
    return below === undefined ? { height: 0, normal: [0, 0, 1] } : below.kind.ground!(below.reads, x, y, below.part)
  }

  /** The ground first, then what stands on it: where a scene has put obstacles around the machine, as a field `obstacles`. */
  private touchable(position: Vector, level: Scalar): readonly Touchable[] {
    const { height, normal, rising = 0 } = this.ground(position[0], position[1])
    const over = mul(sub(position[2], add(height, level)), normal[2])
    const around = Object.entries(partsIn(this.machine.obstacles))
    const seenFrom = (point: Vector) =>
      around.flatMap(([name, part]) => this.surfaceOf(name, partOf(findKind(shapes, part)!, part), point) ?? [])
    const standing = around.length === 0 ? [] : (this.looking?.nearest(position, seenFrom) ?? seenFrom(position))
    return [{ over, normal, rising }, ...standing.map((surface) => ({ ...surface, rising: 0 }))]
  }

  private surfaceOf(name: string, shape: Shape, position: Vector): Surface | undefined {
    const kind = findKind(shapes, shape)!
    const { rotation, position: place } = placementOf(shape)
    const own = applied(transposedRows(rotation), minus(position, place))
    const surface = kind.surface?.(shape, own) ?? this.looking?.mesh(name, own)
    return surface && { over: surface.over, normal: applied(rotation, surface.normal) }
  }

  private point(body: string, at: Vector): { position: Vector; velocity: Vector } {
    const seat = this.assembly.seats.get(body)!
    const arm = placedPoint(seat.place, at)
    if (seat.body < 0) return { position: arm, velocity: [0, 0, 0] }
    const { rotation, position } = this.poses[seat.body]!
    const { angular, linear } = this.moved[seat.body]!.velocity
    return {
      position: plus(position, applied(rotation, arm)),
      velocity: applied(rotation, plus(linear, cross(angular, arm))),
    }
  }

  private direction(body: string, given: Vector): Vector {
    const { rotation } = seatPose(this.assembly.seats.get(body)!, this.poses)
    return applied(rotation, unit(given))
  }

  private turning(body: string): Vector {
    const seat = this.assembly.seats.get(body)!
    if (seat.body < 0) return [0, 0, 0]
    return applied(this.poses[seat.body]!.rotation, this.moved[seat.body]!.velocity.angular)
  }

  private push(body: string, at: Vector, force: Vector): void {
    const seat = this.assembly.seats.get(body)!
    if (seat.body < 0) return
    const arm = placedPoint(seat.place, at)
    const own = applied(transposedRows(this.poses[seat.body]!.rotation), force)
    this.add(seat.body, forceOutOf({ rotation: unrotated, position: arm }, { angular: [0, 0, 0], linear: own }))
  }

  private pushOwn(body: string, at: Vector, force: Vector, torque: Vector): void {
    const seat = this.assembly.seats.get(body)!
    if (seat.body < 0) return
    const { rotation } = seat.place
    const wrench = { angular: applied(rotation, torque), linear: applied(rotation, force) }
    this.add(seat.body, forceOutOf({ rotation: unrotated, position: placedPoint(seat.place, at) }, wrench))
  }

  private twist(body: string, torque: Vector): void {
    const seat = this.assembly.seats.get(body)!
    if (seat.body < 0) return
    this.add(seat.body, { angular: applied(transposedRows(this.poses[seat.body]!.rotation), torque), linear: [0, 0, 0] })
  }

  private add(body: number, wrench: Spatial): void {
    const before = this.forces[body]
    this.forces[body] = before === undefined ? wrench : spatialPlus(before, wrench)
  }
}

function unit(given: Vector): Vector {
  return dividedBy(given, sqrt(dot(given, given)))
}
