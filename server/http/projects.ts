import { randomUUID } from 'node:crypto'
import express, { Router } from 'express'
import { mostDocumentCharacters } from '@calm-hand/core/document'
import type { Problem } from '@calm-hand/core/document'
import type { Store } from '../store/store'
import type { SentProject, SentSave } from '../workers/documents'
import type { Readers } from '../workers/pools'
import { admission } from './admission'
import { atMostBytes } from './guards'
import { isProjectName, nameIn, noName } from './names'
import { refuse } from './problems'
import { runRoutes } from './runs'
import { sent } from './sent'

/** The document itself, and the words around it; a letter may take three bytes. */
const mostDocumentBytes = 3 * mostDocumentCharacters + 100_000

/** Saves that are worked on at once. */
const door = { running: 16, waiting: 400, patienceMs: 8_000 }

/** States of a history in one answer. */
const revisionsAPage = 100
const largestNumber = 2_147_483_647

/** Projects, their history and their runs. */
export function projectRoutes(store: Store, readers: Readers): Router {
  const routes = Router()
  const json = [
    atMostBytes(mostDocumentBytes),
    admission(door),
    express.text({ type: 'application/json', limit: mostDocumentBytes, defaultCharset: 'utf-8' }),
  ]

  routes.param('id', isProjectName)

  routes.get('/', async (_request, response) => {
    response.json(await store.projects())
  })

  routes.post('/', ...json, async (request, response) => {
    const read = await sent(request, response, 'add', readers)
    if (read === undefined) return
    const { id } = read.sent as SentProject
    if (await store.addProject(id, read.text, 'Created')) return void response.status(201).json({ id, revision: 1 })
    const isBinned = (await store.findProject(id)) === undefined
    refuse(response, 409, [
      {
        where: 'id',
        what: isBinned ? `A project named ${id} lies in the bin.` : `A project named ${id} exists.`,
        remedy: isBinned ? 'Choose another name, or take that one back from the bin.' : 'Choose another name.',
      },
    ])
  })

  routes.get('/:id', async (request, response) => {
    const found = await store.findProject(request.params.id!)
    if (found === undefined) return refuse(response, 404, [unknownProject(request.params.id!)])
    response.json(found)
  })

  routes.put('/:id', ...json, async (request, response) => {
    const id = request.params.id as string
    const read = await sent(request, response, 'save', readers)
    if (read === undefined) return
    const { revision, label, save = randomUUID(), follows = [] } = read.sent as SentSave
    const outcome = await store.save(id, { from: revision, text: read.text, label, id: save, follows })
    switch (outcome.kind) {
      case 'saved':
        return void response.json({ revision: outcome.revision, savedAt: outcome.savedAt })
      case 'unknown':
        return refuse(response, 404, [unknownProject(id)])
      case 'stale': {
        const what = `This work started from revision ${revision}; revision ${outcome.current.revision} has been saved since.`
        const problem = { where: 'revision', what, remedy: 'Keep yours on top of it, or take what was saved.' }
        return void response.status(409).json({ problems: [problem], current: outcome.current })
      }
      default:
        return outcome satisfies never
    }
  })

  routes.delete('/:id', async (request, response) => {
    if (await store.binProject(request.params.id!)) return void response.status(204).end()
    refuse(response, 404, [unknownProject(request.params.id!)])
  })

  routes.get('/:id/revisions', async (request, response) => {
    const before = Number(request.query.before ?? largestNumber)
    if (!isRevision(before)) return refuse(response, 400, [unknownRevision(String(request.query.before))])
    response.json(await store.revisions(request.params.id!, before, revisionsAPage))
  })

  routes.delete('/:id/revisions', async (request, response) => {
    response.json({ deleted: await store.forgetHistory(request.params.id!) })
  })

  routes.get('/:id/revisions/:number', async (request, response) => {
    const number = Number(request.params.number)
    const document = isRevision(number) ? await store.findRevision(request.params.id!, number) : undefined
    if (document === undefined) return refuse(response, 404, [unknownRevision(request.params.number!)])
    response.json(document)
  })

  routes.patch('/:id/revisions/:number', express.json({ limit: 10_000 }), async (request, response) => {
    const number = Number(request.params.number)
    const name = nameIn(request.body)
    if (name === undefined) return refuse(response, 400, [noName])
    if (isRevision(number) && (await store.nameRevision(request.params.id!, number, name))) return void response.status(204).end()
    refuse(response, 404, [unknownRevision(request.params.number!)])
  })

  routes.use('/:id/runs', runRoutes(store, readers, json))
  return routes
}

function isRevision(number: number): boolean {
  return Number.isInteger(number) && number >= 1 && number <= largestNumber
}

function unknownRevision(given: string): Problem {
  return { where: 'revision', what: `There is no revision ${given.slice(0, 40)}.`, remedy: 'Choose one from the history.' }
}

function unknownProject(id: string): Problem {
  return { where: 'project', what: `There is no project named ${id}.`, remedy: 'Open one from the Yard.' }
}
