import { useState } from 'react'
import { replaceAt } from '@calm-hand/core/document'
import type { Problem } from '@calm-hand/core/document'
import { edit } from '../../state/project'
import { readStanding } from '../../state/readFiles'
import { keepMesh } from '../../state/server'

interface StandingMeshProps {
  /** Document path of the obstacle. */
  readonly path: string
  readonly isHere: boolean
}

/** Takes the file of a mesh that stands in a scene: one that is open or inside out has no inside to keep out of. */
export function StandingMesh({ path, isHere }: StandingMeshProps) {
  const [problems, setProblems] = useState<readonly Problem[]>([])
  const [isLarge, setLarge] = useState(false)
  const take = async (file: File | undefined) => {
    if (file === undefined) return
    setProblems([])
    setLarge(false)
    const content = new Uint8Array(await file.arrayBuffer())
    const looked = await readStanding(file.name, content)
    if (looked.kind === 'refused') return setProblems(looked.problems)
    const kept = await keepMesh(file.name, content)
    if (kept.kind === 'refused') return setProblems(kept.problems)
    setLarge(looked.value.isLarge)
    edit({
      label: `Take ${file.name}`,
      apply: (document) => replaceAt(replaceAt(document, `${path}.file`, file.name), `${path}.mesh`, kept.value),
    })
  }
  return (
    <div className="text-[12.5px] pb-1">
      <label className="button small cursor-pointer focus-within:outline-2 focus-within:outline-kelp">
        {isHere ? 'Another file' : 'Give its file'}
        <input
          type="file"
          className="sr-only"
          accept=".stl,.obj,.glb,.gltf"
          onChange={(event) => void take(event.target.files?.[0])}
        />
      </label>
      {!isHere && problems.length === 0 && <span className="note pl-2">STL, OBJ or glTF, closed, in metres</span>}
      {isLarge && <p className="finding border-ochre mt-1.5">It is more than 50 m large. In millimetres its scale is 0.001.</p>}
      {problems.map(({ what, remedy }) => (
        <p key={what} role="alert" className="text-[12px] leading-4 text-coral-text pt-1.5">
          {what} {remedy}
        </p>
      ))}
    </div>
  )
}
