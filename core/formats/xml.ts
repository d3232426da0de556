import { SaxesParser } from 'saxes'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'

/** Characters, elements, attributes of one element, and elements inside one another: far above what any machine needs. */
const longestText = 20_000_000
const mostElements = 100_000
const mostAttributes = 50
const deepestNesting = 40

/** An element: attributes with @ before their names, and lists of children by name. */
export interface XmlElement {
  readonly [name: string]: string | readonly XmlElement[] | undefined
}

export interface XmlRoot {
  readonly name: string
  readonly element: XmlElement
}

/** Ends the parser at the first thing that is not read. */
class Unreadable extends Error {
  constructor(
    readonly what: string,
    readonly remedy: string,
  ) {
    super(what)
  }
}

/**
 * Reads XML in one pass: elements and attributes; text, comments and instructions are passed over. Nothing outside the
 * text is read and no entity of its own is resolved. What is refused is told with line and column.
 */
export function parseXml(text: string): Outcome<XmlRoot> {
  if (text.length > longestText)
    return refusedFor(
      'text',
      `The file has ${text.length} characters; at most ${longestText} are read.`,
      'Keep meshes in files of their own.',
    )
  const first = /^\uFEFF?\s*(?!<)\S/.exec(text)
  if (first !== null) {
    const line = first[0].split('\n').length
    return refusedFor(
      `line ${line}`,
      'This is not XML: it does not begin with an element.',
      'Give the file that begins with <robot ...>.',
    )
  }
  const parser = new SaxesParser({ position: true })
  const open: Record<string, string | XmlElement[]>[] = []
  let root: XmlRoot | undefined
  let elements = 0
  parser.on('doctype', () => {
    throw new Unreadable(
      'The file declares entities or a document type, which are never needed.',
      'Remove the <!DOCTYPE ...> part.',
    )
  })
  parser.on('opentagstart', () => {
    if (++elements > mostElements)
      throw new Unreadable(`The file has more than ${mostElements} elements.`, 'Leave out what the machine does not need.')
    if (open.length >= deepestNesting)
      throw new Unreadable(
        `Elements stand more than ${deepestNesting} deep in one another.`,
        'Give a plain description; its elements stand at most ten deep.',
      )
  })
  let attributes = 0
  parser.on('attribute', () => {
    if (++attributes > mostAttributes)
      throw new Unreadable(`An element has more than ${mostAttributes} attributes.`, 'Leave out those that mean nothing.')
  })
  parser.on('opentag', ({ name, attributes: given }) => {
    attributes = 0
    const element = Object.create(null) as Record<string, string | XmlElement[]>
    for (const [key, value] of Object.entries(given)) element[`@${key}`] = value
    const above = open.at(-1)
    if (above === undefined) root ??= { name, element }
    else ((above[name] ??= []) as XmlElement[]).push(element)
    open.push(element)
  })
  parser.on('closetag', () => void open.pop())
  parser.on('error', (error) => {
    throw new Unreadable(
      `This is not XML: ${error.message.replace(/^\d+:\d+: /, '').slice(0, 200)}`,
      'Correct the file at that place.',
    )
  })
  try {
    parser.write(text).close()
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error
    return refusedFor(`line ${parser.line}, column ${parser.column}`, error.what, error.remedy)
  }
  return root === undefined ? refusedFor('text', 'The file has no element.', 'Give a whole file.') : done(root)
}
