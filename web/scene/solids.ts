import * as THREE from 'three'
import { remembered, rememberedOf } from '@calm-hand/core/document'
import type { Palette } from './palette'

/** A pale matte solid with its creases drawn as ink lines. */
export function inked(
  geometry: THREE.BufferGeometry,
  color: string,
  palette: Palette,
  opacity = 1,
  hasCreases = true,
): THREE.Group {
  const group = new THREE.Group()
  group.add(new THREE.Mesh(geometry, matte(color, opacity)))
  if (hasCreases) group.add(new THREE.LineSegments(creasesOf(geometry), ink(palette.edge, opacity)))
  return group
}

/** Materials and creases are shared: a model is made anew at every edit, and a new material is a new program for the screen. */
const mattes = new Map<string, THREE.Material>()
const inks = new Map<string, THREE.Material>()
const mostMaterials = 100
const creases = new WeakMap<THREE.BufferGeometry, Map<string, THREE.EdgesGeometry>>()

function matte(color: string, opacity: number): THREE.Material {
  const transparent = opacity < 1
  const offset = { polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }
  const make = () => new THREE.MeshLambertMaterial({ color, transparent, opacity, ...offset })
  return remembered(mattes, mostMaterials, `${color} ${opacity}`, make)
}

function ink(color: string, opacity: number): THREE.Material {
  const make = () => new THREE.LineBasicMaterial({ color, transparent: opacity < 1, opacity })
  return remembered(inks, mostMaterials, `${color} ${opacity}`, make)
}

/** Degrees: a flatter edge is no crease. */
const creaseDegrees = 25

function creasesOf(geometry: THREE.BufferGeometry): THREE.EdgesGeometry {
  return rememberedOf(creases, geometry, '', () => new THREE.EdgesGeometry(geometry, creaseDegrees))
}

/** A thin arrow from the origin along a direction; with two heads where it stands for a moment. */
export function arrow(direction: THREE.Vector3, length: number, color: string, width = 0.006, heads: 1 | 2 = 1): THREE.Group {
  const group = new THREE.Group()
  const material = new THREE.MeshBasicMaterial({ color })
  const head = Math.min(0.05, length * 0.4)
  const shaft = new THREE.Mesh(new THREE.CylinderGeometry(width, width, length - head, 8), material)
  shaft.position.y = (length - head) / 2
  group.add(shaft)
  for (let k = 0; k < heads; k++) {
    const tip = new THREE.Mesh(new THREE.ConeGeometry(width * 3, head, 12), material)
    tip.position.y = length - head / 2 - 0.9 * head * k
    group.add(tip)
  }
  group.quaternion.setFromUnitVectors(new THREE.Vector3(0, 1, 0), direction.clone().normalize())
  return group
}

/** An arrow whose place, direction and length change from frame to frame. */
export interface MovingArrow {
  readonly group: THREE.Group
  /** `direction` has length 1. */
  readonly place: (from: THREE.Vector3, direction: THREE.Vector3, length: number) => void
}

const alongY = new THREE.Vector3(0, 1, 0)

export function movingArrow(color: string, width: number, heads: 1 | 2 = 1): MovingArrow {
  const group = new THREE.Group()
  const material = new THREE.MeshBasicMaterial({ color })
  const shaft = new THREE.Mesh(new THREE.CylinderGeometry(width, width, 1, 8).translate(0, 0.5, 0), material)
  const head = 8 * width
  const tips = Array.from({ length: heads }, () => new THREE.Mesh(new THREE.ConeGeometry(3 * width, head, 12), material))
  group.add(shaft, ...tips)
  return {
    group,
    place: (from, direction, length) => {
      const own = Math.min(head, length * 0.6)
      group.position.copy(from)
      group.quaternion.setFromUnitVectors(alongY, direction)
      shaft.scale.set(1, Math.max(length - own, 1e-6), 1)
      tips.forEach((tip, k) => {
        tip.scale.setScalar(own / head)
        tip.position.y = length - own / 2 - 0.9 * own * k
      })
    },
  }
}

/** A thin line that is seen through everything. */
export function overLine(points: readonly THREE.Vector3[], color: string): THREE.Line {
  const drawn = new THREE.Line(
    new THREE.BufferGeometry().setFromPoints([...points]),
    new THREE.LineBasicMaterial({ color, depthTest: false, transparent: true }),
  )
  drawn.renderOrder = 7
  return drawn
}

/** A small ball that is seen through everything. */
export function overBall(at: THREE.Vector3, color: string, radius: number): THREE.Mesh {
  const drawn = new THREE.Mesh(new THREE.SphereGeometry(radius, 14, 10), new THREE.MeshBasicMaterial({ color, depthTest: false }))
  drawn.position.copy(at)
  drawn.renderOrder = 8
  return drawn
}

/** Share of the distance that a label is high, so that it has one size on screen however far it stands. */
const labelHeight = 0.018

/** Words that face the viewer. */
export function label(text: string, palette: Palette): THREE.Sprite {
  const canvas = document.createElement('canvas')
  const context = canvas.getContext('2d')!
  const font = '600 44px "Instrument Sans Variable", sans-serif'
  context.font = font
  canvas.width = Math.ceil(context.measureText(text).width) + 32
  canvas.height = 64
  context.font = font
  context.fillStyle = palette.chalk
  context.globalAlpha = 0.85
  context.beginPath()
  context.roundRect(0, 0, canvas.width, canvas.height, 10)
  context.fill()
  context.globalAlpha = 1
  context.fillStyle = palette.ink
  context.textBaseline = 'middle'
  context.fillText(text, 16, 34)
  const sprite = new THREE.Sprite(
    new THREE.SpriteMaterial({
      map: new THREE.CanvasTexture(canvas),
      depthTest: false,
      transparent: true,
      fog: false,
      sizeAttenuation: false,
    }),
  )
  sprite.scale.set((labelHeight * canvas.width) / canvas.height, labelHeight, 1)
  sprite.renderOrder = 10
  return sprite
}

/** A metric grid of lines on the ground: one draw call. */
export function gridLines(size: number, step: number, z: number, palette: Palette): THREE.LineSegments {
  const points: number[] = []
  const count = Math.round(size / step)
  for (let i = -count; i <= count; i++) {
    points.push(i * step, -size, z, i * step, size, z, -size, i * step, z, size, i * step, z)
  }
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(points, 3))
  return new THREE.LineSegments(geometry, new THREE.LineBasicMaterial({ color: palette.grid, transparent: true, opacity: 0.7 }))
}
