import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { done, partsIn, refused, refusedFor } from '../document'
import type { Document, Outcome, Problem } from '../document'
import { fileSteps, meshPlaces } from '../machine'
import { keptTableName } from './packedTable'

/** Contents of files by their path, as a zip or a folder holds them. */
export type Files = ReadonlyMap<string, Uint8Array>

/** Has a mesh kept; gives the hash that it is kept by. */
export type KeepMesh = (name: string, bytes: Uint8Array) => Promise<Outcome<string>>

/** Bytes of a zip unpacked, and files in it: more would fill the memory. */
const mostBytes = 400_000_000
const mostFiles = 5000

/** Where a bundle keeps the document. */
const documentPath = 'document.json'

/** The files of a zip. What it says of its sizes is believed only as a bound: no file is unpacked beyond it. */
export function unzipFiles(bytes: Uint8Array): Outcome<Files> {
  let [total, count] = [0, 0]
  const tooLarge = () => total > mostBytes || count > mostFiles
  try {
    const entries = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (isClutter(name)) return false
        total += originalSize
        count++
        return !tooLarge()
      },
    })
    if (!tooLarge()) return done(new Map(Object.entries(entries)))
  } catch (error) {
    return refusedFor('bundle', `This zip cannot be unpacked: ${(error as Error).message}.`, 'Make it again; it may be cut off.')
  }
  const what = `Unpacked it would have ${count} files and ${Math.round(total / 1e6)} MB; at most ${mostFiles} files and ${mostBytes / 1e6} MB are read.`
  return refusedFor('bundle', what, 'Leave out what the machine does not need, such as pictures, and use coarser meshes.')
}

/** Folders, and what some systems put beside files. */
function isClutter(path: string): boolean {
  return path.endsWith('/') || path.split('/').some((step) => step.startsWith('.') || step === '__MACOSX')
}

/** Something that a document shows by the hash of its content. */
interface KeptPlace {
  readonly folder: 'meshes' | 'records'
  readonly hash: string
  readonly name: string
}

/** The meshes and measured records of a document. */
export function keptPlaces(document: Document): readonly KeptPlace[] {
  const meshes = meshPlaces(document).flatMap(({ file, mesh }): KeptPlace[] =>
    mesh === undefined ? [] : [{ folder: 'meshes', hash: mesh, name: fileSteps(file).at(-1) ?? 'mesh' }],
  )
  const records = Object.values(document.trials).flatMap((trial) =>
    Object.values(partsIn(trial.records)).map(({ file, data }): KeptPlace => {
      return { folder: 'records', hash: String(data), name: keptTableName(fileSteps(String(file)).at(-1) ?? 'record') }
    }),
  )
  return [...meshes, ...records]
}

/** The document with its meshes and measured records in one file: a zip of `document.json`, `meshes/HASH/NAME` and `records/HASH/NAME`. */
export function packBundle(document: Document, contents: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const kept = keptPlaces(document).flatMap(({ folder, hash, name }) => {
    const bytes = contents.get(hash)
    return bytes === undefined ? [] : [[`${folder}/${hash}/${name}`, bytes]]
  })
  return zipSync({ [documentPath]: strToU8(JSON.stringify(document, null, 2)), ...Object.fromEntries(kept) })
}

/** The text of the document in a bundle, where these files are one. */
export function documentOfBundle(files: Files): string | undefined {
  const found = files.get(documentPath)
  return found === undefined ? undefined : strFromU8(found)
}

/** The text of the one robot description among files. */
export function robotOfFiles(files: Files): Outcome<string> {
  const found = [...files.keys()].filter((path) => /\.urdf$/i.test(path))
  if (found.length === 1) return done(strFromU8(files.get(found[0]!)!))
  const xacro = [...files.keys()].find((path) => /\.xacro$/i.test(path))
  const expand = 'Expand it first (`xacro robot.urdf.xacro > robot.urdf`) and give the result with its meshes.'
  if (found.length === 0 && xacro !== undefined) return refusedFor(xacro, 'Only a xacro file is here.', expand)
  const what =
    found.length === 0
      ? `Among ${files.size} files there is neither a robot description (.urdf) nor a document of Calm Hand.`
      : `There are ${found.length} robot descriptions: ${found.slice(0, 4).join(', ')}.`
  return refusedFor('files', what, 'Give one folder or zip with one .urdf and the meshes that it names.')
}

/** Mesh formats that can be read, by ending. */
const readable = /\.(stl|obj|glb|gltf)$/i

/** Whether a path is that of a mesh file which is read. */
export function isMeshFile(path: string): boolean {
  return readable.test(path)
}

/**
 * The file that a mesh shape means: the one whose path agrees with the named one for the most steps from the end
 * (package:// and file:// names belong to another machine's folders).
 */
function findMeshFile(files: Files, named: string): Outcome<{ path: string; bytes: Uint8Array }> {
  const wanted = fileSteps(named)
  const agreeing = [...files.keys()]
    .map((path) => ({ path, steps: agreement(fileSteps(path), wanted) }))
    .sort((a, b) => b.steps - a.steps)[0]
  if (agreeing === undefined || agreeing.steps === 0) {
    const remedy = `Put ${wanted.at(-1) ?? 'it'} among the files, or give it at the body later.`
    return refusedFor(named, 'This mesh is not among the files.', remedy)
  }
  if (!isMeshFile(agreeing.path)) {
    const ending = agreeing.path.split('.').at(-1)!
    return refusedFor(named, `Meshes of the sort .${ending} cannot be read.`, 'Export it as STL, OBJ or glTF.')
  }
  return done({ path: agreeing.path, bytes: files.get(agreeing.path)! })
}

/** The mesh, or the record, of a hash as a bundle keeps it. */
export function meshOfBundle(
  files: Files,
  hash: string,
  folder: KeptPlace['folder'] = 'meshes',
): { path: string; bytes: Uint8Array } | undefined {
  const found = [...files].find(([path]) => path.startsWith(`${folder}/${hash}/`))
  return found === undefined ? undefined : { path: found[0], bytes: found[1] }
}

/** Gives every mesh shape that names one of the files the hash it is kept by; tells what is missing or unreadable. */
export async function withMeshes(
  document: Document,
  files: Files,
  keep: KeepMesh,
): Promise<{ hashes: ReadonlyMap<string, string>; problems: readonly Problem[] }> {
  const hashes = new Map<string, string>()
  const kept = new Map<string, Outcome<string>>()
  const problems: Problem[] = []
  for (const { path, file, mesh } of meshPlaces(document)) {
    if (mesh !== undefined) continue
    const found = findMeshFile(files, file)
    if (found.kind === 'refused') {
      problems.push(...found.problems)
      continue
    }
    const outcome = kept.get(found.value.path) ?? (await keep(found.value.path, found.value.bytes))
    kept.set(found.value.path, outcome)
    if (outcome.kind === 'done') hashes.set(path, outcome.value)
    else problems.push(...outcome.problems)
  }
  return { hashes, problems: distinct(problems) }
}

/** Has every mesh and measured record of a bundle kept; refused where one is not what its hash says. */
export async function keepBundleMeshes(document: Document, files: Files, keep: KeepMesh): Promise<Outcome<undefined>> {
  const places = new Map(keptPlaces(document).map((place) => [place.hash, place]))
  for (const { hash, folder } of places.values()) {
    const sort = folder === 'meshes' ? 'mesh' : 'measured record'
    const found = meshOfBundle(files, hash, folder)
    if (found === undefined)
      return refusedFor(`${folder}/${hash}`, `The bundle lacks a ${sort} that its document uses.`, 'Save the bundle again.')
    const outcome = await keep(found.path, found.bytes)
    if (outcome.kind === 'refused') return refused(outcome.problems)
    if (outcome.value !== hash)
      return refusedFor(found.path, `This ${sort} is not the one that was saved: its content differs.`, 'Save the bundle again.')
  }
  return done(undefined)
}

function distinct(problems: readonly Problem[]): Problem[] {
  return [...new Map(problems.map((problem) => [problem.where + problem.what, problem])).values()]
}

function agreement(path: readonly string[], wanted: readonly string[]): number {
  let steps = 0
  while (steps < path.length && steps < wanted.length && path.at(-1 - steps) === wanted.at(-1 - steps)) steps++
  return steps
}
