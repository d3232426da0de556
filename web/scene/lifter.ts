import * as THREE from 'three'
import { rotorPlaces } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'
import type { Palette } from './palette'
import { inked } from './solids'

type Triple = readonly [number, number, number]

interface Rotors {
  readonly count: number
  readonly armLength: number
  readonly height: number
  readonly radius: number
}

/** A lifter as its document describes it: bodies in their places, rotors on their arms. Origin as in the document. */
export function lifter(machine: Part, palette: Palette, opacity = 1, tint?: string): THREE.Group {
  const group = new THREE.Group()
  const rotors = machine.rotors as unknown as Rotors
  for (const body of Object.values(machine.bodies as Readonly<Record<string, Part>>)) {
    const solid = bodySolid(body, rotors, palette, opacity, tint)
    if (solid !== undefined) group.add(solid)
  }
  for (const place of rotorPlaces(rotors.count)) group.add(rotorSolid(place.angle, place.turns, rotors, palette, opacity, tint))
  return group
}

function bodySolid(
  body: Part,
  rotors: Rotors,
  palette: Palette,
  opacity: number,
  tint: string | undefined,
): THREE.Group | undefined {
  const [x, y, z] = body.at as Triple
  const [sx, sy, sz] = body.size as Triple
  const color = tint ?? palette.matte
  const at = (solid: THREE.Group) => {
    solid.position.set(x, y, z)
    return solid
  }
  switch (body.shape) {
    case 'hull': {
      const prism = new THREE.CylinderGeometry(sx / 2, (sx / 2) * 0.86, sz, 6)
      prism.rotateX(Math.PI / 2)
      return at(inked(prism, color, palette, opacity))
    }
    case 'box':
      return at(inked(new THREE.BoxGeometry(sx, sy, sz), tint ?? palette.matteShade, palette, opacity))
    case 'arms': {
      const group = new THREE.Group()
      for (const { angle } of rotorPlaces(rotors.count)) {
        const arm = inked(new THREE.BoxGeometry(rotors.armLength, sy, sz), color, palette, opacity)
        arm.position.set((Math.cos(angle) * rotors.armLength) / 2, (Math.sin(angle) * rotors.armLength) / 2, z)
        arm.rotation.z = angle
        group.add(arm)
      }
      return group
    }
    case 'skids': {
      const group = new THREE.Group()
      for (const side of [-1, 1]) {
        const rail = inked(new THREE.CylinderGeometry(0.008, 0.008, sx, 8).rotateZ(Math.PI / 2), color, palette, opacity)
        rail.position.set(x, (side * sy) / 2, z - sz / 2)
        group.add(rail)
        for (const along of [-0.25, 0.25]) {
          const strut = inked(new THREE.CylinderGeometry(0.006, 0.006, sz, 8), color, palette, opacity)
          strut.position.set(x + along * sx, side * sy * 0.4, z)
          strut.rotation.x = Math.PI / 2 - side * 0.25
          group.add(strut)
        }
      }
      return group
    }
    default:
      return undefined
  }
}

function rotorSolid(
  angle: number,
  turns: 1 | -1,
  rotors: Rotors,
  palette: Palette,
  opacity: number,
  tint: string | undefined,
): THREE.Group {
  const group = new THREE.Group()
  group.position.set(Math.cos(angle) * rotors.armLength, Math.sin(angle) * rotors.armLength, rotors.height)
  const motor = inked(
    new THREE.CylinderGeometry(0.022, 0.026, 0.05, 14).rotateX(Math.PI / 2),
    tint ?? palette.dark,
    palette,
    opacity,
  )
  motor.position.z = -0.02
  const disc = new THREE.Mesh(
    new THREE.CircleGeometry(rotors.radius, 40),
    new THREE.MeshBasicMaterial({
      color: tint ?? palette.dark,
      transparent: true,
      opacity: 0.28 * opacity,
      side: THREE.DoubleSide,
      depthWrite: false,
    }),
  )
  const rim = new THREE.LineLoop(
    new THREE.BufferGeometry().setFromPoints(new THREE.EllipseCurve(0, 0, rotors.radius, rotors.radius).getPoints(48)),
    new THREE.LineBasicMaterial({ color: palette.edge, transparent: opacity < 1, opacity }),
  )
  const blade = inked(new THREE.BoxGeometry(rotors.radius * 1.9, 0.018, 0.004), tint ?? palette.matte, palette, opacity)
  blade.rotation.z = angle + (turns === 1 ? 0.5 : -0.7)
  const spun = new THREE.Group()
  spun.name = 'disc'
  spun.position.z = 0.012
  spun.add(disc, rim, blade)
  group.add(motor, spun)
  return group
}
