/**
 * Forward dynamics of a tree of one-freedom joints the plain way: articulated bodies with loops over 6 x 6 matrices in
 * typed arrays, Featherstone, Rigid Body Dynamics Algorithms, 2008, table 7.1. The slow yardstick of the engine, and an
 * implementation of its own to compare with: it shares no code with it.
 */
export interface PlainBody {
  readonly parent: number
  readonly sliding: boolean
  readonly axis: readonly [number, number, number]
  /** Row-major r_parent_near and p_parent_near. */
  readonly rotation: readonly number[]
  readonly position: readonly [number, number, number]
  readonly mass: number
  readonly centre: readonly [number, number, number]
  /** Row-major, about the body's origin. */
  readonly inertia: readonly number[]
}

/** Accelerations for positions, speeds and efforts of one freedom a body; gravity in world axes. */
export function plainForwardDynamics(
  bodies: readonly PlainBody[],
  gravity: readonly [number, number, number],
  q: ArrayLike<number>,
  qd: ArrayLike<number>,
  tau: ArrayLike<number>,
): Float64Array {
  const n = bodies.length
  const x = bodies.map((body, i) => transformOf(body, q[i]!))
  const s = bodies.map(({ sliding, axis }) => Float64Array.from(sliding ? [0, 0, 0, ...axis] : [...axis, 0, 0, 0]))
  const [v, c, p, u]: Float64Array[][] = [[], [], [], []]
  const articulated = bodies.map(inertiaOf)
  for (let i = 0; i < n; i++) {
    const own = s[i]!.map((value) => value * qd[i]!)
    v![i] = bodies[i]!.parent < 0 ? own : sum(times(x[i]!, v![bodies[i]!.parent]!), own)
    c![i] = crossMotion(v![i]!, own)
    p![i] = crossForce(v![i]!, times(articulated[i]!, v![i]!))
  }
  const d = new Float64Array(n)
  const left = new Float64Array(n)
  for (let i = n - 1; i >= 0; i--) {
    u![i] = times(articulated[i]!, s[i]!)
    d[i] = dot(s[i]!, u![i]!)
    left[i] = tau[i]! - dot(s[i]!, p![i]!)
    const { parent } = bodies[i]!
    if (parent < 0) continue
    const rest = articulated[i]!.map((value, k) => value - (u![i]![Math.floor(k / 6)]! * u![i]![k % 6]!) / d[i]!)
    const force = sum(
      sum(p![i]!, times(rest, c![i]!)),
      u![i]!.map((value) => (value * left[i]!) / d[i]!),
    )
    const back = transpose(x[i]!)
    articulated[parent] = sum(articulated[parent]!, product(product(back, rest), x[i]!))
    p![parent] = sum(p![parent]!, times(back, force))
  }
  const accelerations = new Float64Array(n)
  const a: Float64Array[] = []
  const raised = Float64Array.from([0, 0, 0, -gravity[0], -gravity[1], -gravity[2]])
  for (let i = 0; i < n; i++) {
    const { parent } = bodies[i]!
    const before = sum(times(x[i]!, parent < 0 ? raised : a[parent]!), c![i]!)
    accelerations[i] = (left[i]! - dot(u![i]!, before)) / d[i]!
    a[i] = sum(
      before,
      s[i]!.map((value) => value * accelerations[i]!),
    )
  }
  return accelerations
}

/** 6 x 6 motion transform from the parent's frame into the body's. */
function transformOf({ sliding, axis, rotation, position }: PlainBody, q: number): Float64Array {
  const near = spatialTransform(rotation, position)
  const far = sliding
    ? spatialTransform([1, 0, 0, 0, 1, 0, 0, 0, 1], axis.map((value) => value * q) as [number, number, number])
    : spatialTransform(turn(axis, q), [0, 0, 0])
  return product(far, near)
}

function spatialTransform(r: readonly number[], p: readonly [number, number, number]): Float64Array {
  const out = new Float64Array(36)
  const [x, y, z] = p
  const skew = [0, -z, y, z, 0, -x, -y, x, 0]
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) {
      out[6 * i + j] = out[6 * (i + 3) + j + 3] = r[3 * j + i]!
      let value = 0
      for (let k = 0; k < 3; k++) value -= r[3 * k + i]! * skew[3 * k + j]!
      out[6 * (i + 3) + j] = value
    }
  return out
}

function turn([x, y, z]: readonly [number, number, number], angle: number): number[] {
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const v = 1 - c
  return [
    c + x * x * v,
    x * y * v - z * s,
    x * z * v + y * s,
    y * x * v + z * s,
    c + y * y * v,
    y * z * v - x * s,
    z * x * v - y * s,
    z * y * v + x * s,
    c + z * z * v,
  ]
}

function inertiaOf({ mass, centre: [x, y, z], inertia }: PlainBody): Float64Array {
  const out = new Float64Array(36)
  const skew = [0, -z, y, z, 0, -x, -y, x, 0]
  for (let i = 0; i < 3; i++) {
    out[6 * (i + 3) + i + 3] = mass
    for (let j = 0; j < 3; j++) {
      out[6 * i + j] = inertia[3 * i + j]!
      out[6 * i + j + 3] = mass * skew[3 * i + j]!
      out[6 * (i + 3) + j] = mass * skew[3 * j + i]!
    }
  }
  return out
}

function times(m: Float64Array, v: Float64Array): Float64Array {
  const out = new Float64Array(6)
  for (let i = 0; i < 6; i++) for (let j = 0; j < 6; j++) out[i]! += m[6 * i + j]! * v[j]!
  return out
}

function product(a: Float64Array, b: Float64Array): Float64Array {
  const out = new Float64Array(36)
  for (let i = 0; i < 6; i++)
    for (let k = 0; k < 6; k++) {
      const value = a[6 * i + k]!
      for (let j = 0; j < 6; j++) out[6 * i + j]! += value * b[6 * k + j]!
    }
  return out
}

function transpose(a: Float64Array): Float64Array {
  const out = new Float64Array(36)
  for (let i = 0; i < 6; i++) for (let j = 0; j < 6; j++) out[6 * j + i] = a[6 * i + j]!
  return out
}

function crossMotion(v: Float64Array, m: Float64Array): Float64Array {
  const [wx, wy, wz, vx, vy, vz] = v as unknown as number[]
  const [ax, ay, az, bx, by, bz] = m as unknown as number[]
  return Float64Array.from([
    wy! * az! - wz! * ay!,
    wz! * ax! - wx! * az!,
    wx! * ay! - wy! * ax!,
    wy! * bz! - wz! * by! + vy! * az! - vz! * ay!,
    wz! * bx! - wx! * bz! + vz! * ax! - vx! * az!,
    wx! * by! - wy! * bx! + vx! * ay! - vy! * ax!,
  ])
}

function crossForce(v: Float64Array, f: Float64Array): Float64Array {
  const [wx, wy, wz, vx, vy, vz] = v as unknown as number[]
  const [nx, ny, nz, fx, fy, fz] = f as unknown as number[]
  return Float64Array.from([
    wy! * nz! - wz! * ny! + vy! * fz! - vz! * fy!,
    wz! * nx! - wx! * nz! + vz! * fx! - vx! * fz!,
    wx! * ny! - wy! * nx! + vx! * fy! - vy! * fx!,
    wy! * fz! - wz! * fy!,
    wz! * fx! - wx! * fz!,
    wx! * fy! - wy! * fx!,
  ])
}

function sum(a: Float64Array, b: Float64Array): Float64Array {
  return a.map((value, i) => value + b[i]!)
}

function dot(a: Float64Array, b: Float64Array): number {
  return a.reduce((total, value, i) => total + value * b[i]!, 0)
}
