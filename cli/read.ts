import { createHash } from 'node:crypto'
import { readFileSync, statSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { parseDocument } from '@calm-hand/core'
import type { Checked } from '@calm-hand/core'
import { done, mostDocumentCharacters, refusedFor, valueOfJson } from '@calm-hand/core/document'
import type { Document, Outcome, TrialPart } from '@calm-hand/core/document'
import { documentOfBundle, meshOfBundle, parseMesh, unzipFiles } from '@calm-hand/core/formats'
import { fileSteps, meshPlaces } from '@calm-hand/core/machine'
import type { FindMesh, Mesh } from '@calm-hand/core/machine'

/** The text of a file, or of standard input for `-`. */
export function readText(path: string): Outcome<string> {
  try {
    if (path !== '-' && statSync(path).size > 4 * mostDocumentCharacters) {
      return refusedFor(
        path,
        `The file has ${statSync(path).size} bytes, far more than a document may have.`,
        'Check that it is the right file.',
      )
    }
    return done(readFileSync(path === '-' ? 0 : path, 'utf8'))
  } catch (error) {
    return unreadable(path, error)
  }
}

/** A checked document: as written, and with its formulas worked out; a bundle is read by the document in it. */
export function readDocument(path: string): Outcome<Checked> {
  const project = readProject(path)
  return project.kind === 'refused' ? project : done(project.value.checked)
}

/** The trial that `--trial` names. */
export function trialOf({ trials }: Document, name: string): Outcome<TrialPart> {
  const part = trials[name]
  const known = `Known: ${Object.keys(trials).join(', ')}.`
  return part === undefined ? refusedFor('--trial', `There is no trial named ${name}.`, known) : done(part)
}

export interface Project {
  readonly checked: Checked
  /** The meshes of its bundle, or those that lie beside its document. */
  readonly findMesh: FindMesh
}

/** A document with the meshes that belong to it. */
export function readProject(path: string): Outcome<Project> {
  if (!/\.zip$/i.test(path)) {
    const text = readText(path)
    if (text.kind === 'refused') return text
    const checked = parseDocument(text.value)
    return checked.kind === 'refused' ? checked : done(withMeshes(checked.value, (_, file) => beside(path, file)))
  }
  const bytes = readBytes(path)
  if (bytes.kind === 'refused') return bytes
  const files = unzipFiles(bytes.value)
  if (files.kind === 'refused') return files
  const text = documentOfBundle(files.value)
  if (text === undefined) return refusedFor(path, 'This zip holds no document.', 'Give a bundle that was saved here.')
  const checked = parseDocument(text)
  if (checked.kind === 'refused') return checked
  return done(withMeshes(checked.value, (hash) => meshOfBundle(files.value, hash)?.bytes))
}

/** A mesh counts where it is what its hash says. */
function withMeshes(checked: Checked, content: (hash: string, file: string) => Uint8Array | undefined): Project {
  const places = meshPlaces(checked.resolved)
  const read = new Map<string, Mesh | undefined>()
  const findMesh = (hash: string) => {
    if (!read.has(hash)) {
      const file = places.find(({ mesh }) => mesh === hash)?.file ?? ''
      const bytes = content(hash, file)
      const isIt = bytes !== undefined && createHash('sha256').update(bytes).digest('hex') === hash
      const mesh = isIt ? parseMesh(file, bytes) : undefined
      read.set(hash, mesh?.kind === 'done' ? mesh.value : undefined)
    }
    return read.get(hash)
  }
  return { checked, findMesh }
}

function beside(document: string, file: string): Uint8Array | undefined {
  const found = document === '-' ? undefined : readBytes(join(dirname(document), fileSteps(file).at(-1) ?? ''))
  return found?.kind === 'done' ? found.value : undefined
}

/** The bytes of a file. */
export function readBytes(path: string): Outcome<Uint8Array> {
  try {
    return done(new Uint8Array(readFileSync(path)))
  } catch (error) {
    return unreadable(path, error)
  }
}

function unreadable(path: string, error: unknown): Outcome<never> {
  return refusedFor(path, `The file cannot be read: ${(error as Error).message}`, 'Check the path.')
}

export function readJson(path: string): Outcome<unknown> {
  const text = readText(path)
  return text.kind === 'refused' ? text : valueOfJson(text.value, path, 'Correct the file at the place named.')
}
