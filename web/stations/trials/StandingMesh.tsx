import { useState } from 'react'
import { replaceAt } from '@calm-hand/core/document'
import type { Problem } from '@calm-hand/core/document'
import { edit } from '../../state/project'
import { readStanding } from '../../state/readFiles'
import { FileButton } from '../../frame/FileButton'
import { meshFiles } from '../../frame/meshFiles'
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
      <FileButton accept={meshFiles} onFiles={(files) => void take(files?.[0])}>
        {isHere ? 'Another file' : 'Give its file'}
      </FileButton>
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
