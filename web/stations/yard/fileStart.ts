import { done, refused, refusedFor } from '@calm-hand/core/document'
import type { Document, Outcome, Problem } from '@calm-hand/core/document'
import { keepBundleMeshes, withMeshes } from '@calm-hand/core/formats'
import { withMeshContent } from '@calm-hand/core/machine'
import { readStart } from '../../state/readFiles'
import { keepMesh } from '../../state/server'
import type { FileStart } from '../../workers/fileStart'

/** Bytes of all files together; more is refused before it is read. */
const mostBytes = 400_000_000

/** A file with its path in the folder it came with. */
export interface GivenFile {
  readonly path: string
  readonly file: File
}

/** A project, or a machine from a robot description, out of one file, a zip, or a folder's files. */
export async function startFromFiles(given: readonly GivenFile[]): Promise<Outcome<FileStart>> {
  const size = given.reduce((sum, { file }) => sum + file.size, 0)
  const [first] = given
  if (first === undefined) return refusedFor('files', 'There is no file in it.', 'Give a robot description, a zip or a folder.')
  if (size > mostBytes) {
    const what = `The files have ${Math.round(size / 1e6)} MB together; at most ${mostBytes / 1e6} MB are read.`
    return refusedFor(first.path, what, 'Give only the robot description and the meshes that it names.')
  }
  const files = new Map(
    await Promise.all(given.map(async ({ path, file }) => [path, new Uint8Array(await file.arrayBuffer())] as const)),
  )
  return readStart(first.path, files)
}

/** Has the meshes kept that came with a start; `left` says which could not be taken and why. */
export async function keepMeshes({
  document,
  files,
}: FileStart): Promise<Outcome<{ readonly document: Document; readonly left: readonly Problem[] }>> {
  if (files.size === 0) return done({ document, left: [] })
  const bundle = await keepBundleMeshes(document, files, keepMesh)
  if (bundle.kind === 'refused') return refused(bundle.problems)
  const { hashes, problems } = await withMeshes(document, files, keepMesh)
  return done({ document: withMeshContent(document, hashes), left: problems })
}

/** Files of an input: of a folder with their paths in it. */
export function filesOf(list: FileList | null): GivenFile[] {
  return [...(list ?? [])].map((file) => ({ path: file.webkitRelativePath || file.name, file }))
}

/** Everything in what was dropped, folders walked through. */
export async function droppedFiles(items: DataTransferItemList): Promise<GivenFile[]> {
  const entries = [...items].flatMap((item) => item.webkitGetAsEntry() ?? [])
  return (await Promise.all(entries.map(walked))).flat()
}

async function walked(entry: FileSystemEntry): Promise<GivenFile[]> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject))
    return [{ path: entry.fullPath.replace(/^\//, ''), file }]
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader()
  const inside: GivenFile[] = []
  // a folder is read in portions until one is empty
  for (;;) {
    const portion = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject))
    if (portion.length === 0) return inside
    inside.push(...(await Promise.all(portion.map(walked))).flat())
  }
}
