import { useCallback, useEffect, useRef, useState } from 'react'
import * as THREE from 'three'
import { machineFacts, rotorPlaces } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { download } from '../../state/download'
import { Stage3D, arrow, label, lifter } from '../../scene'
import type { StageHandle } from '../../scene'
import { useOpen } from '../../state/project'
import { withUnit } from '../../units'
import { ViewBar } from './ViewBar'

interface MachineStageProps {
  readonly machine: Part
  readonly name: string
  readonly chosen: string
}

type View = 'fixed' | 'top' | 'side' | 'front'
const views: Readonly<Record<View, readonly [number, number, number]>> = {
  fixed: [1.25, -1.0, 0.75],
  top: [0.001, 0, 1.9],
  side: [0, -1.9, 0.12],
  front: [1.9, 0, 0.12],
}
const viewNames = Object.keys(views) as View[]

/** The machine in 3D from its document, standing at hover: parts, rotor thrusts, axes and centre of mass. */
export function MachineStage({ machine, name, chosen }: MachineStageProps) {
  const [view, setView] = useState<View>('fixed')
  const handle = useRef<StageHandle>(undefined)
  const shown = useRef<THREE.Group>(undefined)
  const facts = machineFacts(machine)
  const title = useOpen((project) => project.document.title)

  const rebuild = useCallback(() => {
    const stage = handle.current
    if (stage === undefined) return
    if (shown.current !== undefined) stage.scene.remove(shown.current)
    shown.current = contents(machine, chosen, stage)
    stage.scene.add(shown.current)
    stage.draw()
  }, [machine, chosen])
  const rebuildNow = useRef(rebuild)
  useEffect(() => {
    rebuildNow.current = rebuild
    rebuild()
  }, [rebuild])
  const ready = useCallback((stage: StageHandle) => {
    handle.current = stage
    rebuildNow.current()
    return () => {
      handle.current = undefined
    }
  }, [])

  const look = useCallback((next: View) => {
    setView(next)
    handle.current?.camera.position.set(...views[next])
    handle.current?.target.set(0, 0, 0)
    handle.current?.draw()
  }, [])

  const save = async () => {
    if (handle.current !== undefined) download(`${name}.png`, await handle.current.picture())
  }
  return (
    <div className="relative h-full">
      <Stage3D
        label={`${labelOf(machine, name)} in 3D, hovering on ${rotorPlaces((machine.rotors as unknown as { count: number }).count).length} rotors`}
        ground={-0.3}
        gridStep={0.1}
        camera={views.fixed}
        target={[0, 0, 0]}
        onReady={ready}
      />
      <p className="absolute left-4 top-3 text-[15px]">
        <b className="font-semibold">{title}</b> at hover, each rotor at{' '}
        <span className="number">{withUnit(facts.hoverThrust, 'N', 3)}</span> and{' '}
        <span className="number">{withUnit(facts.hoverSpeed, 'rad/s', 3)}</span>
      </p>
      <p className="absolute left-4 bottom-3 note flex gap-4">
        <span>
          <span className="text-ochre-text">↑</span> rotor thrust
        </span>
        <span>x, y, z: axes at the centre of mass</span>
        <span>
          grid <span className="number">0.1 m</span> near by
        </span>
      </p>
      <ViewBar views={viewNames} view={view} onLook={look} onSave={() => void save()} />
    </div>
  )
}

/** Everything drawn, with the centre of mass at the origin of the world. */
function contents(machine: Part, chosen: string, { palette }: StageHandle): THREE.Group {
  const group = new THREE.Group()
  const facts = machineFacts(machine)
  const [cx, cy, cz] = facts.centre as [number, number, number]
  const rotors = machine.rotors as unknown as { count: number; armLength: number; height: number }
  const body = lifter(machine, palette)
  body.position.set(-cx, -cy, -cz)
  group.add(body)
  rotorPlaces(rotors.count).forEach(({ angle }, i) => {
    const thrust = arrow(new THREE.Vector3(0, 0, 1), 0.05 + 0.03 * facts.hoverThrust, palette.ochre)
    thrust.position.set(
      Math.cos(angle) * rotors.armLength - cx,
      Math.sin(angle) * rotors.armLength - cy,
      rotors.height - cz + 0.02,
    )
    const number = label(String(i + 1), palette)
    number.position.copy(thrust.position).add(new THREE.Vector3(0, 0, 0.09 + 0.03 * facts.hoverThrust))
    group.add(thrust, number)
  })
  const axes: [string, THREE.Vector3][] = [
    ['x ahead', new THREE.Vector3(1, 0, 0)],
    ['y left', new THREE.Vector3(0, 1, 0)],
    ['z up', new THREE.Vector3(0, 0, 1)],
  ]
  for (const [words, direction] of axes) {
    const drawn = arrow(direction, 0.3, palette.ink, 0.004)
    const text = label(words, palette)
    text.position.copy(direction.clone().multiplyScalar(0.35))
    group.add(drawn, text)
  }
  const centre = new THREE.Mesh(
    new THREE.SphereGeometry(0.016, 16, 12),
    new THREE.MeshBasicMaterial({ color: palette.coral, depthTest: false }),
  )
  centre.renderOrder = 9
  group.add(centre)
  const marked = chosenPlace(machine, chosen)
  if (marked !== undefined) {
    const [x, y, z] = marked
    const ring = new THREE.Mesh(
      new THREE.SphereGeometry(0.02, 16, 12),
      new THREE.MeshBasicMaterial({ color: palette.kelp, depthTest: false }),
    )
    ring.position.set(x - cx, y - cy, z - cz)
    ring.renderOrder = 8
    const text = label(chosen, palette)
    text.position.set(x - cx, y - cy, z - cz - 0.06)
    group.add(ring, text)
  }
  return group
}

/** Where the chosen part's centre or the chosen sensor is, in machine axes. */
function chosenPlace(machine: Part, chosen: string): readonly [number, number, number] | undefined {
  const parts = { ...(machine.bodies as Readonly<Record<string, Part>>), ...(machine.sensors as Readonly<Record<string, Part>>) }
  return parts[chosen]?.at as readonly [number, number, number] | undefined
}
