import express, { Router } from 'express'
import type { RequestHandler } from 'express'
import Joi from 'joi'
import { recordPieceBytes as pieceBytes } from '@calm-hand/core/document'
import { unpackedBytes } from '../store/packing'
import type { Store } from '../store/store'
import type { SentMade } from '../workers/documents'
import type { Readers } from '../workers/pools'
import { admission } from './admission'
import { atMostBytes } from './guards'
import { nothingSaid, saidIn } from './names'
import { refuse } from './problems'
import { sent } from './sent'

/** A piece that cannot be compressed is a little longer than it was. */
const mostPieceBytes = pieceBytes + 100_000

/** Pieces that are worked on at once: each is unpacked as a whole, and saves go before. They may wait long, with their bodies unread. */
const door = { running: 2, waiting: 400, patienceMs: 20_000 }

const hash = Joi.string().hex().length(32).required()
const pieceNumber = /^\d{1,3}$/

/**
 * The runs of a project: their records come in pieces, each compressed, the first with the head; after them what made them.
 * `json` reads a body that holds a document.
 */
export function runRoutes(store: Store, readers: Readers, json: readonly RequestHandler[]): Router {
  const routes = Router({ mergeParams: true })
  const bytes = [
    atMostBytes(mostPieceBytes),
    admission(door),
    express.raw({ type: 'application/octet-stream', limit: mostPieceBytes, inflate: false }),
  ]

  routes.param('hash', (_request, response, next, value: unknown) => {
    if (hash.validate(value).error === undefined) return next()
    refuse(response, 400, [
      { where: 'address', what: 'This is not the hash of a run.', remedy: 'A hash has 32 hexadecimal digits.' },
    ])
  })

  routes.get('/', async (request, response) => {
    response.json(await store.runs(projectOf(request)))
  })

  routes.put('/:hash/pieces/:number', ...bytes, async (request, response) => {
    const id = projectOf(request)
    const { hash: runHash, number: given } = request.params as { hash: string; number: string }
    const body: unknown = request.body
    const number = pieceNumber.test(given) ? Number(given) : -1
    const piece = body instanceof Uint8Array ? await unpackedBytes(body, pieceBytes) : undefined
    if (number < 0 || piece === undefined)
      return refuse(response, 422, [
        {
          where: 'piece',
          what: 'This is no piece of a record: it is not compressed, too long or damaged.',
          remedy: `Send pieces of ${pieceBytes} bytes, each compressed by gzip, as application/octet-stream.`,
        },
      ])
    if (number === 0) {
      // with the first run: the server listens sooner without the readers of files
      const { readRecordHead } = await import('@calm-hand/core/formats')
      const read = readRecordHead(piece)
      if (read.kind === 'refused') return refuse(response, 422, read.problems)
      const { head, length } = read.value
      if (head.hash !== runHash)
        return refuse(response, 422, [
          {
            where: 'hash',
            what: 'The record is not the one that the address names.',
            remedy: 'Send it to the address of its own hash.',
          },
        ])
      if (piece.length !== Math.min(pieceBytes, length)) return refuse(response, 422, [cutShort])
      if (!(await store.beginRun(id, runHash, { trial: head.trial, length })))
        return refuse(response, 404, [
          { where: 'project', what: `There is no project named ${id}.`, remedy: 'Open one from the Yard.' },
        ])
    }
    const owner = await store.findRun(id, runHash)
    if (owner === undefined)
      return refuse(response, 409, [
        {
          where: 'piece',
          what: 'The first piece of this record is not here yet.',
          remedy: 'Send piece 0 first: it has the head.',
        },
      ])
    if (piece.length !== Math.min(pieceBytes, owner.length - number * pieceBytes)) return refuse(response, 422, [cutShort])
    const { complete } = await store.keepPiece(id, runHash, { number, content: body as Uint8Array })
    if (complete) await store.pruneRuns(id)
    response.json({ complete })
  })

  routes.get('/:hash', async (request, response) => {
    const found = await store.findRun(projectOf(request), request.params.hash!)
    if (found === undefined || !found.complete) return refuse(response, 404, [noRun])
    response.type('application/octet-stream').set('Content-Length', String(found.length))
    for await (const piece of store.recordOf(projectOf(request), request.params.hash!)) {
      if (response.destroyed) return
      if (!response.write(piece)) await new Promise((resolve) => response.once('drain', resolve).once('close', resolve))
    }
    response.end()
  })

  routes.put('/:hash/made', ...json, async (request, response) => {
    const read = await sent(request, response, 'made', readers)
    if (read === undefined) return
    const { verdicts } = read.sent as SentMade
    const { hash: runHash } = request.params as { hash: string }
    if (await store.keepMade(projectOf(request), runHash, read.text, verdicts)) return void response.status(204).end()
    refuse(response, 404, [noRun])
  })

  routes.get('/:hash/made', async (request, response) => {
    const made = await store.madeBy(projectOf(request), request.params.hash!)
    if (made !== undefined) return void response.type('application/json').send(made)
    refuse(response, 404, [
      {
        where: 'run',
        what: 'What made this run is not kept.',
        remedy: 'Run the trial again: what makes it is kept from then on.',
      },
    ])
  })

  routes.patch('/:hash', express.json({ limit: 20_000 }), async (request, response) => {
    const said = saidIn(request.body)
    if (said === undefined) return refuse(response, 400, [nothingSaid])
    if (await store.sayOfRun(projectOf(request), request.params.hash!, said)) return void response.status(204).end()
    refuse(response, 404, [noRun])
  })

  routes.delete('/:hash', async (request, response) => {
    if (await store.deleteRun(projectOf(request), request.params.hash!)) return void response.status(204).end()
    refuse(response, 404, [noRun])
  })

  return routes
}

/** The router above checked it. */
function projectOf(request: { readonly params: unknown }): string {
  return (request.params as { id: string }).id
}

const cutShort = { where: 'piece', what: 'The piece is not as long as it should be.', remedy: 'Send the record again.' }

const noRun = {
  where: 'run',
  what: 'This run is not kept here.',
  remedy: 'Run the trial again: the same document gives the same run.',
}
