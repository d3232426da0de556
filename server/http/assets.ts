import { createHash } from 'node:crypto'
import express, { Router } from 'express'
import Joi from 'joi'
import { mostMeshBytes } from '@calm-hand/core/document'
import type { Store } from '../store/store'
import type { Readers } from '../workers/pools'
import { admission } from './admission'
import { atMostBytes } from './guards'
import { plainWords } from './names'
import { refuse } from './problems'

/** One mesh at a time: it may have a hundred megabytes. */
const door = { running: 1, waiting: 50, patienceMs: 60_000 }

const hash = Joi.string().hex().length(64).required()
const meshName = plainWords(200).required()

/** Meshes by the hash of their content. What cannot be read as a mesh is not kept. */
export function assetRoutes(store: Store, readers: Readers): Router {
  const routes = Router()

  routes.post(
    '/',
    atMostBytes(mostMeshBytes),
    admission(door),
    express.raw({ type: 'application/octet-stream', limit: mostMeshBytes }),
    async (request, response) => {
      const { value: name, error } = meshName.validate(request.query.name) as { value: string; error?: Error }
      if (error !== undefined)
        return refuse(response, 400, [{ where: 'name', what: 'The mesh has no name.', remedy: 'Send it as ?name=arm.stl.' }])
      const body: unknown = request.body
      const bytes = body instanceof Uint8Array ? body : new Uint8Array()
      const problems = await readers.mesh(name, bytes)
      if (problems.length > 0) return refuse(response, 422, problems)
      const found = createHash('sha256').update(bytes).digest('hex')
      await store.keepAsset(found, name, bytes)
      response.status(201).json({ hash: found })
    },
  )

  routes.get('/:hash', async (request, response) => {
    const isHash = hash.validate(request.params.hash).error === undefined
    const content = isHash ? await store.findAsset(request.params.hash!) : undefined
    if (content === undefined)
      return refuse(response, 404, [
        { where: 'mesh', what: 'This mesh is not kept here.', remedy: 'Give its file again at the body that shows it.' },
      ])
    response.set('Cache-Control', 'private, max-age=31536000, immutable')
    response.type('application/octet-stream').send(Buffer.from(content.buffer, content.byteOffset, content.byteLength))
  })
  return routes
}
