import { useMemo, useState } from 'react'
import { partAt, partsIn } from '@calm-hand/core/document'
import type { Part, Problem } from '@calm-hand/core/document'
import { looksLikeMillimetres, meshProblems, meshProperties, shapesProperties } from '@calm-hand/core/machine'
import type { SolidProperties } from '@calm-hand/core/machine'
import { useMeshes } from '../../../state/meshes'
import { edit, useOpen } from '../../../state/project'
import { readMesh } from '../../../state/readFiles'
import { keepMesh } from '../../../state/server'
import { parseTyped, withUnit } from '../../../units'
import { setMass } from './mechanismEdits'
import { FileButton } from '../../../frame/FileButton'
import { meshFiles } from '../../../frame/meshFiles'
import type { KeptMesh } from './mechanismEdits'

interface MassFromProps {
  /** Document path of the body. */
  readonly path: string
}

/** Mass, centre and inertia from what a body is made of: its shapes, or a closed mesh, with a density. */
export function MassFrom({ path }: MassFromProps) {
  // sizes may be formulas: what is weighed are their numbers
  const worked = useOpen((project) => partAt(project.valid, path))
  const [density, setDensity] = useState('2700')
  const [unit, setUnit] = useState<'m' | 'mm'>('mm')
  const [problems, setProblems] = useState<readonly Problem[]>([])
  const [caution, setCaution] = useState<string>()
  const typed = parseTyped(density, 'kg/m³')
  const value = typed.kind === 'number' && typed.value > 0 ? typed.value : undefined
  const shapes = Object.values(partsIn(worked?.shapes))
  const alone = useMemo((): Part => ({ kind: 'mechanism', bodies: worked === undefined ? {} : { worked } }), [worked])
  const meshes = useMeshes(alone)
  const [isDrawn, setDrawn] = useState(true)
  const fromShapes = value === undefined ? undefined : shapesProperties(shapes, value, (hash) => meshes.get(hash))

  const take = (found: SolidProperties, kept?: KeptMesh) => {
    setProblems([])
    edit(setMass(path, found, kept))
  }
  const takeShapes = () => {
    const wrong = shapes.flatMap(({ file, mesh }) => {
      const found = meshes.get((mesh as string | undefined) ?? '')
      return found === undefined ? [] : meshProblems(file as string, found)
    })
    if (wrong.length > 0) setProblems(wrong)
    else if (fromShapes !== undefined) take(fromShapes)
  }
  const takeMesh = async (file: File | undefined) => {
    if (file === undefined || value === undefined) return
    setCaution(undefined)
    const content = new Uint8Array(await file.arrayBuffer())
    const mesh = await readMesh(file.name, content)
    if (mesh.kind === 'refused') return setProblems(mesh.problems)
    const wrong = meshProblems(file.name, mesh.value)
    if (wrong.length > 0) return setProblems(wrong)
    if (unit === 'm' && looksLikeMillimetres(mesh.value)) setCaution('It is more than 50 m large: are these millimetres?')
    const scale = unit === 'mm' ? 1e-3 : 1
    const found = meshProperties(mesh.value, value, scale)
    if (!isDrawn) return take(found)
    const kept = await keepMesh(file.name, content)
    if (kept.kind === 'refused') return setProblems(kept.problems)
    take(found, { file: file.name, mesh: kept.value, scale })
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
        <button className="button small" disabled={fromShapes === undefined} onClick={takeShapes}>
          Its shapes{fromShapes === undefined || fromShapes.mass <= 0 ? '' : `: ${withUnit(fromShapes.mass, 'kg', 3)}`}
        </button>
      </div>
      <div className="flex items-center gap-2 pt-1.5">
        <FileButton accept={meshFiles} onFiles={(files) => void takeMesh(files?.[0])}>
          A closed mesh
        </FileButton>
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
        <label className="flex items-center gap-1.5">
          <input type="checkbox" checked={isDrawn} onChange={(event) => setDrawn(event.target.checked)} />
          and draw it
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
