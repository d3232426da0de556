import { checkDocument, parseDocument } from '@calm-hand/core'
import { done, refused, refusedFor } from '@calm-hand/core/document'
import type { Document, Outcome, Problem } from '@calm-hand/core/document'
import { documentOfBundle, isMeshFile, keepBundleMeshes, robotOfFiles, withMeshes } from '@calm-hand/core/formats'
import type { Files } from '@calm-hand/core/formats'
import { withMeshContent } from '@calm-hand/core/machine'
import { unzip } from '../../state/readFiles'
import { keepMesh } from '../../state/server'
import { machineFromUrdf } from './newMachine'

/** Bytes of all files together; more is refused before it is read. */
const mostBytes = 400_000_000

/** A file with its path in the folder it came with. */
export interface GivenFile {
  readonly path: string
  readonly file: File
}

export interface FileStart {
  readonly label: string
  readonly document: Document
  /** What came with it. */
  readonly files: Files
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
  const label = (given.length === 1 ? first.path : first.path.split('/')[0]!).replace(/\.[^.]+$/, '')
  if (given.length > 1) return fromFiles(label, files)
  const content = files.get(first.path)!
  if (/\.zip$/i.test(first.path)) {
    const unpacked = await unzip(first.path, content)
    return unpacked.kind === 'refused' ? unpacked : fromFiles(label, unpacked.value)
  }
  if (isMeshFile(first.path))
    return refusedFor(
      first.path,
      'A mesh alone is no machine.',
      'Give the robot description that names it, or start from one body and take the mesh as its shape.',
    )
  const text = new TextDecoder().decode(content)
  return /\.json$/i.test(first.path) ? fromDocument(label, text, new Map()) : fromRobot(label, text, new Map())
}

function fromFiles(label: string, files: Files): Outcome<FileStart> {
  const document = documentOfBundle(files)
  if (document !== undefined) return fromDocument(label, document, files)
  const robot = robotOfFiles(files)
  return robot.kind === 'refused' ? robot : fromRobot(label, robot.value, files)
}

function fromDocument(label: string, text: string, files: Files): Outcome<FileStart> {
  const checked = parseDocument(text)
  if (checked.kind === 'refused') return checked
  return done({ label: checked.value.document.title || label, document: checked.value.document, files })
}

function fromRobot(label: string, text: string, files: Files): Outcome<FileStart> {
  const document = machineFromUrdf(text)
  if (document.kind === 'refused') return document
  // what is wrong with it is told before its meshes are sent anywhere
  const checked = checkDocument({ ...document.value, title: label })
  return checked.kind === 'refused' ? checked : done({ label, document: document.value, files })
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
