import { checkDocument, parseDocument } from '@calm-hand/core'
import { done, refusedFor } from '@calm-hand/core/document'
import type { Document, Outcome } from '@calm-hand/core/document'
import { documentOfBundle, isMeshFile, parseUrdf, robotMachine, robotOfFiles, unzipFiles } from '@calm-hand/core/formats'
import type { Files } from '@calm-hand/core/formats'
import { machineDocument } from '../state/machineDocument'

export interface FileStart {
  readonly label: string
  readonly document: Document
  /** What came with it. */
  readonly files: Files
}

/** A project, or a machine from a robot description, out of one file, a zip, or a folder's files by their paths. */
export function startOf(given: Files): Outcome<FileStart> {
  const [[path, content]] = [...given] as [[string, Uint8Array]]
  const label = (given.size === 1 ? path : path.split('/')[0]!).replace(/\.[^.]+$/, '')
  if (given.size > 1) return fromFiles(label, given)
  if (/\.zip$/i.test(path)) {
    const unpacked = unzipFiles(content)
    return unpacked.kind === 'refused' ? unpacked : fromFiles(label, unpacked.value)
  }
  if (isMeshFile(path))
    return refusedFor(
      path,
      'A mesh alone is no machine.',
      'Give the robot description that names it, or start from one body and take the mesh as its shape.',
    )
  const text = new TextDecoder().decode(content)
  return /\.json$/i.test(path) ? fromDocument(label, text, new Map()) : fromRobot(label, text, new Map())
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

/** A robot description, standing on ground. */
export function machineFromUrdf(text: string): Outcome<Document> {
  const robot = parseUrdf(text)
  if (robot.kind === 'refused') return robot
  const links = robot.value.links.length
  return done(machineDocument('robot', robotMachine(robot.value, 'fixed').machine, `${links} links, from a robot description`))
}
