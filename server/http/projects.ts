import express, { Router } from 'express'
import Joi from 'joi'
import { checkDocument } from '@calm-hand/core'
import { mostDocumentCharacters } from '@calm-hand/core/document'
import type { Problem } from '@calm-hand/core/document'
import { unpackRecord } from '@calm-hand/core/formats'
import type { Store } from '../store/store'
import { atMostBytes } from './guards'
import { refuse } from './problems'

/** The document itself, and the words around it. */
const mostDocumentBytes = mostDocumentCharacters + 100_000
const mostRecordBytes = 60_000_000

const identifier = Joi.string().pattern(/^[a-z][A-Za-z0-9-]{0,59}$/)
const hash = Joi.string().hex().length(32)
const saveSchema = Joi.object({
  revision: Joi.number().integer().min(1).required(),
  label: Joi.string().max(200).required(),
  document: Joi.object().unknown(true).required(),
})
const addSchema = Joi.object({ id: identifier.required(), document: Joi.object().unknown(true).required() })

/** Projects, their history and their runs. */
export function projectRoutes(store: Store): Router {
  const routes = Router()
  const json = express.json({ limit: mostDocumentBytes })
  const bytes = express.raw({ type: 'application/octet-stream', limit: mostRecordBytes })

  routes.use(atMostBytes(mostRecordBytes))
  routes.param('id', (_request, response, next, value: unknown) => {
    if (identifier.validate(value).error === undefined) return next()
    refuse(response, 400, [
      {
        where: 'address',
        what: 'This is not the name of a project.',
        remedy: 'Names start with a small letter and hold letters, digits and dashes.',
      },
    ])
  })
  routes.param('hash', (_request, response, next, value: unknown) => {
    if (hash.validate(value).error === undefined) return next()
    refuse(response, 400, [
      { where: 'address', what: 'This is not the hash of a run.', remedy: 'A hash has 32 hexadecimal digits.' },
    ])
  })

  routes.get('/', async (_request, response) => {
    response.json(await store.projects())
  })

  routes.post('/', json, async (request, response) => {
    const { value, error } = addSchema.validate(request.body, { convert: false }) as {
      value: { id: string; document: unknown }
      error?: Error
    }
    if (error !== undefined) return refuse(response, 400, [sentProblem(error)])
    const checked = checkDocument(value.document)
    if (checked.kind === 'refused') return refuse(response, 422, checked.problems)
    if (await store.addProject(value.id, checked.value.document, 'Created'))
      return void response.status(201).json({ id: value.id, revision: 1 })
    refuse(response, 409, [{ where: 'id', what: `A project named ${value.id} exists.`, remedy: 'Choose another name.' }])
  })

  routes.get('/:id', async (request, response) => {
    const found = await store.findProject(request.params.id)
    if (found === undefined) return refuse(response, 404, [unknownProject(request.params.id)])
    response.json(found)
  })

  routes.put('/:id', json, async (request, response) => {
    const { value, error } = saveSchema.validate(request.body, { convert: false }) as {
      value: { revision: number; label: string; document: unknown }
      error?: Error
    }
    if (error !== undefined) return refuse(response, 400, [sentProblem(error)])
    const checked = checkDocument(value.document)
    if (checked.kind === 'refused') return refuse(response, 422, checked.problems)
    const outcome = await store.save(request.params.id, value.revision, checked.value.document, value.label)
    switch (outcome.kind) {
      case 'saved':
        return void response.json({ revision: outcome.revision, savedAt: outcome.savedAt })
      case 'unknown':
        return refuse(response, 404, [unknownProject(request.params.id)])
      case 'stale': {
        const what = `This work started from revision ${value.revision}; revision ${outcome.current.revision} has been saved since.`
        const problem = { where: 'revision', what, remedy: 'Keep yours on top of it, or take what was saved.' }
        return void response.status(409).json({ problems: [problem], current: outcome.current })
      }
      default:
        return outcome satisfies never
    }
  })

  routes.get('/:id/revisions', async (request, response) => {
    response.json(await store.revisions(request.params.id))
  })

  routes.get('/:id/revisions/:number', async (request, response) => {
    const number = Number(request.params.number)
    const document = Number.isInteger(number) ? await store.findRevision(request.params.id, number) : undefined
    if (document === undefined)
      return refuse(response, 404, [
        { where: 'revision', what: `There is no revision ${request.params.number}.`, remedy: 'Choose one from the history.' },
      ])
    response.json(document)
  })

  routes.get('/:id/runs', async (request, response) => {
    response.json(await store.runs(request.params.id))
  })

  routes.put('/:id/runs/:hash', bytes, async (request, response) => {
    const body: unknown = request.body
    const record = unpackRecord(body instanceof Uint8Array ? body : new Uint8Array())
    if (record.kind === 'refused') return refuse(response, 422, record.problems)
    if (record.value.hash !== request.params.hash) {
      return refuse(response, 422, [
        {
          where: 'hash',
          what: 'The record is not the one that the address names.',
          remedy: 'Send it to the address of its own hash.',
        },
      ])
    }
    if (await store.keepRun(request.params.id, request.params.hash, record.value.trial, body as Uint8Array))
      return void response.status(204).end()
    refuse(response, 404, [unknownProject(request.params.id)])
  })

  routes.get('/:id/runs/:hash', async (request, response) => {
    const record = await store.findRun(request.params.id, request.params.hash)
    if (record === undefined)
      return refuse(response, 404, [
        {
          where: 'run',
          what: 'This run is not kept here.',
          remedy: 'Run the trial again: the same document gives the same run.',
        },
      ])
    response.type('application/octet-stream').send(Buffer.from(record))
  })

  return routes
}

function sentProblem(error: Error): Problem {
  return {
    where: 'body',
    what: error.message.replaceAll('"', '`'),
    remedy: 'Send what the interface sends: revision, label and document.',
  }
}

function unknownProject(id: string): Problem {
  return { where: 'project', what: `There is no project named ${id}.`, remedy: 'Open one from the Yard.' }
}
