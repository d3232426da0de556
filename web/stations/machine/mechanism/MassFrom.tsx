import { useState } from 'react'
import { findAt } from '@calm-hand/core/document'
import type { Part, Problem } from '@calm-hand/core/document'
import { parseMesh } from '@calm-hand/core/formats'
import { looksLikeMillimetres, meshProblems, meshProperties, shapesProperties } from '@calm-hand/core/machine'
import type { SolidProperties } from '@calm-hand/core/machine'
import { setMass } from './mechanismEdits'
import { edit, useOpen } from '../../../state/project'
import { parseTyped, withUnit } from '../../../units'

interface MassFromProps {
  /** Document path of the body. */
  readonly path: string
}

/** Mass, centre and inertia from what a body is made of: its shapes, or a closed mesh, with a density. */
export function MassFrom({ path }: MassFromProps) {
  const body = useOpen((project) => findAt(project.document, path)) as Part
  // sizes may be formulas: what is weighed are their numbers
  const worked = useOpen((project) => findAt(project.valid, path)) as Part | undefined
  const [density, setDensity] = useState('2700')
  const [unit, setUnit] = useState<'m' | 'mm'>('mm')
  const [problems, setProblems] = useState<readonly Problem[]>([])
  const [caution, setCaution] = useState<string>()
  const typed = parseTyped(density, 'kg/m³')
  const value = typed.kind === 'number' && typed.value > 0 ? typed.value : undefined
  const shapes = Object.values((worked?.shapes ?? {}) as Readonly<Record<string, Part>>)
  const fromShapes = value === undefined ? undefined : shapesProperties(shapes, value)

  const take = (found: SolidProperties) => {
    setProblems([])
    edit(setMass(path, body, found))
  }
  const readMesh = async (file: File | undefined) => {
    if (file === undefined || value === undefined) return
    setCaution(undefined)
    const mesh = parseMesh(file.name, new Uint8Array(await file.arrayBuffer()))
    if (mesh.kind === 'refused') return setProblems(mesh.problems)
    const wrong = meshProblems(file.name, mesh.value)
    if (wrong.length > 0) return setProblems(wrong)
    if (unit === 'm' && looksLikeMillimetres(mesh.value)) setCaution('It is more than 50 m large: are these millimetres?')
    take(meshProperties(mesh.value, value, unit === 'mm' ? 1e-3 : 1))
  }
  return (
    <details className="pt-1.5 text-[12.5px]">
      <summary className="cursor-pointer text-kelp font-semibold">Mass from what it is made of</summary>
      <div className="flex items-center gap-2 pt-1.5">
        <label className="flex items-center gap-1.5">
          density
          <input
            className="number w-[74px] h-7 px-1.5 border border-line rounded-md bg-transparent"
            value={density}
            aria-invalid={value === undefined}
            onChange={(event) => setDensity(event.target.value)}
          />
          <span className="note number">kg/m³</span>
        </label>
        <button
          className="button small"
          disabled={fromShapes === undefined}
          onClick={() => fromShapes !== undefined && take(fromShapes)}
        >
          Its shapes{fromShapes === undefined ? '' : `: ${withUnit(fromShapes.mass, 'kg', 3)}`}
        </button>
      </div>
      <div className="flex items-center gap-2 pt-1.5">
        <label className="button small cursor-pointer">
          A closed mesh
          <input
            type="file"
            className="sr-only"
            accept=".stl,.obj,.glb,.gltf"
            onChange={(event) => void readMesh(event.target.files?.[0])}
          />
        </label>
        <label className="flex items-center gap-1.5">
          in
          <select
            className="h-7 border border-line rounded-md bg-transparent"
            value={unit}
            onChange={(event) => setUnit(event.target.value as 'm' | 'mm')}
          >
            <option>mm</option>
            <option>m</option>
          </select>
        </label>
      </div>
      {caution !== undefined && <p className="finding border-ochre mt-1.5">{caution}</p>}
      {problems.map(({ what, remedy }) => (
        <p key={what} role="alert" className="text-[12px] leading-4 text-coral-text pt-1.5">
          {what} {remedy}
        </p>
      ))}
    </details>
  )
}
