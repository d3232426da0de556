import { Router } from 'express'
import type { Response } from 'express'
import type { Store } from '../store/store'
import { isProjectName } from './names'
import { refuse } from './problems'

/** Projects that were taken out of the Yard: looked at, taken back, or deleted for good. */
export function binRoutes(store: Store): Router {
  const routes = Router()
  routes.param('id', isProjectName)

  routes.get('/', async (_request, response) => {
    response.json(await store.binned())
  })
  routes.post('/:id', async (request, response) => {
    answer(response, request.params.id!, await store.takeFromBin(request.params.id!))
  })
  routes.delete('/:id', async (request, response) => {
    answer(response, request.params.id!, await store.deleteBinned(request.params.id!))
  })
  return routes
}

function answer(response: Response, id: string, done: boolean): void {
  if (done) return void response.status(204).end()
  const what = `There is no project named ${id} in the bin.`
  refuse(response, 404, [{ where: 'project', what, remedy: 'Look into the bin in the Yard.' }])
}
