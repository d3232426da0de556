import { useState } from 'react'
import type { Problem } from '@calm-hand/core/document'
import { withMeshes } from '@calm-hand/core/formats'
import { missingMeshes, withMeshContent } from '@calm-hand/core/machine'
import { edit, useOpen } from '../../../state/project'
import { FileButton } from '../../../frame/FileButton'
import { meshFiles } from '../../../frame/meshFiles'
import { keepMesh } from '../../../state/server'

/** Shapes whose mesh is named but not here: their files can be given, all at once. */
export function MissingMeshes() {
  const document = useOpen((project) => project.document)
  const [left, setLeft] = useState<readonly Problem[]>([])
  const [missing] = missingMeshes(document)
  if (missing === undefined) return null
  const give = async (files: FileList | null) => {
    const given = await Promise.all([...(files ?? [])].map(async (one) => [one.name, await bytesOf(one)] as const))
    const { hashes, problems } = await withMeshes(document, new Map(given), keepMesh)
    setLeft(problems)
    if (hashes.size > 0) edit({ label: 'Give meshes', apply: (now) => withMeshContent(now, hashes) })
  }
  return (
    <section className="section text-[12.5px]" aria-label="Missing meshes">
      <p>{missing.what}</p>
      <FileButton className="mt-1.5" multiple accept={meshFiles} onFiles={(files) => void give(files)}>
        Give their files
      </FileButton>
      {left.slice(0, 3).map(({ where, what, remedy }) => (
        <p key={where} role="alert" className="text-[12px] leading-4 text-coral-text pt-1.5">
          {where}: {what} {remedy}
        </p>
      ))}
    </section>
  )
}

async function bytesOf(file: File): Promise<Uint8Array> {
  return new Uint8Array(await file.arrayBuffer())
}
