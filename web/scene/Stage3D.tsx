import { useEffect, useMemo, useRef } from 'react'
import { Canvas, useThree } from '@react-three/fiber'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import * as THREE from 'three'
import type { Light } from '@calm-hand/core/machine'
import { useTheme } from '../state/theme'
import { clearDay, dress, lampsOf, nearAndFar, shine } from './dress'
import type { Clothes, Lamps } from './dress'
import { readPalette } from './palette'
import type { Palette } from './palette'

export type ViewName = 'follow' | 'fixed' | 'top' | 'side' | 'body'

export interface PictureChoices {
  /** Points. */
  readonly width: number
  readonly height: number
  /** The machine and what stands around it alone, on nothing. */
  readonly transparent: boolean
}

export interface StageHandle {
  readonly scene: THREE.Scene
  readonly camera: THREE.PerspectiveCamera
  readonly palette: Palette
  /** Draws once; the scene is still until something asks. */
  readonly draw: () => void
  /** Where the camera turns about. */
  readonly target: THREE.Vector3
  readonly picture: (choices: PictureChoices) => Promise<Blob>
  /** What is drawn on, for pointers. */
  readonly canvas: HTMLCanvasElement
  /** While something is pulled, dragging does not turn the view. */
  readonly hold: (held: boolean) => void
}

interface Stage3DProps {
  readonly label: string
  /** Height of the ground, m. */
  readonly ground: number
  readonly gridStep: number
  /** Where nothing says one, a clear day with the sun behind the shoulder. */
  readonly light?: Light
  readonly camera: readonly [number, number, number]
  readonly target: readonly [number, number, number]
  /** Called when the scene is ready, and again after a change of theme; gives what removes it. */
  readonly onReady: (handle: StageHandle) => () => void
}

/** A quiet 3D stage: fog, chalk ground with a metric grid, z up. Renders on demand only. */
export function Stage3D(props: Stage3DProps) {
  const theme = useTheme((state) => state.theme)
  return (
    <div className="absolute inset-0" role="img" aria-label={props.label}>
      <Canvas
        key={theme}
        flat
        frameloop="demand"
        dpr={[0.5, 1.5]}
        gl={{ antialias: window.devicePixelRatio >= 1 }}
        camera={{ fov: 34, near: nearAndFar[0], far: nearAndFar[1], up: [0, 0, 1], position: [...props.camera] }}
      >
        <Contents {...props} />
      </Canvas>
    </div>
  )
}

function Contents({ ground, gridStep, light = clearDay, target, onReady }: Stage3DProps) {
  const { scene, camera, gl, invalidate, size } = useThree()
  const palette = useMemo(() => readPalette(), [])
  const controls = useRef<OrbitControls>(null)

  const lamps = useRef<Lamps>(undefined)
  const clothes = useRef<Clothes>(undefined)
  useEffect(() => {
    clothes.current = dress(scene, palette, ground, gridStep)
    invalidate()
    return () => clothes.current?.takeOff()
  }, [scene, palette, ground, gridStep, invalidate])

  useEffect(() => {
    shine((lamps.current ??= lampsOf(scene)), light)
    invalidate()
  }, [scene, light, invalidate])

  useEffect(() => {
    const orbit = new OrbitControls(camera, gl.domElement)
    orbit.target.set(...(target as [number, number, number]))
    orbit.enableDamping = false
    orbit.maxPolarAngle = Math.PI * 0.495
    orbit.addEventListener('change', () => {
      clothes.current?.suit(orbit.target, camera as THREE.PerspectiveCamera)
      invalidate()
    })
    orbit.update()
    controls.current = orbit
    const remove = onReady({
      scene,
      camera: camera as THREE.PerspectiveCamera,
      palette,
      target: orbit.target,
      canvas: gl.domElement,
      hold: (held) => (orbit.enabled = !held),
      draw: () => {
        orbit.update()
        clothes.current?.suit(orbit.target, camera as THREE.PerspectiveCamera)
        invalidate()
      },
      picture: (choices) => pictureOf(gl, scene, camera as THREE.PerspectiveCamera, choices, clothes.current),
    })
    return () => {
      remove()
      orbit.dispose()
    }
    // the camera starts where the stage says; later moves are the person's
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [scene, camera, gl, palette, onReady])

  useEffect(() => invalidate(), [size, invalidate])
  return null
}

/** Draws once more in another size, and on nothing if need be, and leaves everything as it was. */
function pictureOf(
  gl: THREE.WebGLRenderer,
  scene: THREE.Scene,
  camera: THREE.PerspectiveCamera,
  { width, height, transparent }: PictureChoices,
  clothes: Clothes | undefined,
): Promise<Blob> {
  const [size, ratio, aspect, alpha] = [gl.getSize(new THREE.Vector2()), gl.getPixelRatio(), camera.aspect, gl.getClearAlpha()]
  const { background, fog } = scene
  gl.setPixelRatio(1)
  gl.setSize(width, height, false)
  camera.aspect = width / height
  camera.updateProjectionMatrix()
  if (transparent) {
    scene.background = scene.fog = null
    clothes?.show(false)
    gl.setClearAlpha(0)
  }
  gl.render(scene, camera)
  // what is on the canvas is taken at once, so that it may be put back before the file is made
  const made = new Promise<Blob>((resolve, reject) =>
    gl.domElement.toBlob(
      (blob) => (blob === null ? reject(new Error('The picture could not be made: take a smaller one.')) : resolve(blob)),
      'image/png',
    ),
  )
  scene.background = background
  scene.fog = fog
  clothes?.show(true)
  gl.setClearAlpha(alpha)
  camera.aspect = aspect
  camera.updateProjectionMatrix()
  gl.setPixelRatio(ratio)
  gl.setSize(size.x, size.y, false)
  gl.render(scene, camera)
  return made
}
