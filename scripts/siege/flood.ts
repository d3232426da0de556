import { connect } from 'node:net'
import type { Socket } from 'node:net'
import { lamplighter } from '../../core/tests/demo'
import type { Besieged } from './besieged'
import { atMost, none, quantile, told } from './figures'
import type { Figure } from './figures'
import { Saver, metNothing } from './saver'

export interface Flood {
  readonly people: number
  readonly seconds: number
  /** Runs of 5 MB that they upload together. */
  readonly uploads: number
  /** Connections that are opened and say nothing. */
  readonly idle: number
}

const saveEveryMs = 500
const uploadBytes = 5_000_000

/** Many people at once, each saving twice a second, with uploads and idle connections beside. */
export async function flood(app: Besieged, { people, seconds, uploads, idle }: Flood): Promise<Figure[]> {
  const met = metNothing()
  const savers = Array.from({ length: people }, (_, i) => new Saver(app.url, `flood-${i}`, lamplighter(), met))
  await Promise.all(savers.map((saver) => saver.create()))
  met.statuses.clear()
  const idlers = await idleConnections(app, idle)
  const end = performance.now() + 1000 * seconds
  const over = () => false // what was begun is brought to its end
  await Promise.all(
    savers.map(async (saver, i) => {
      await new Promise((resolve) => setTimeout(resolve, (saveEveryMs * i) / people))
      const mine = Math.floor(uploads / people) + (i < uploads % people ? 1 : 0)
      const uploading = (async () => {
        for (let k = 0; k < mine; k++) {
          await new Promise((resolve) => setTimeout(resolve, (1000 * seconds * (0.2 + 1.6 * Math.random())) / (mine + 1)))
          await saver.upload(uploadBytes, over)
        }
      })()
      while (performance.now() < end) {
        const began = performance.now()
        await saver.save(over)
        const left = saveEveryMs - (performance.now() - began)
        if (left > 0) await new Promise((resolve) => setTimeout(resolve, left))
      }
      await uploading
    }),
  )
  for (const socket of idlers) socket.destroy()
  const failed = [...met.statuses]
    .filter(([status]) => status === 'none' || status >= 500)
    .reduce((sum, [, count]) => sum + count, 0)
  const all = [...met.statuses.values()].reduce((sum, count) => sum + count, 0)
  return [
    told(
      'people',
      `${people}, each saving twice a second for ${seconds} s, ${uploads} uploads of 5 MB, ${idlers.length} idle connections`,
    ),
    told('saves and uploads', `${met.saveMs.length} and ${met.uploadMs.length}`),
    none('requests that failed', failed, all),
    told('told to come back', `${met.statuses.get(429) ?? 0}`),
    none('false conflicts', met.conflicts, met.saveMs.length),
    told('half of the saves within', `${quantile(met.saveMs, 0.5).toFixed(0)} ms`),
    atMost('99 % of the saves within', quantile(met.saveMs, 0.99), 1000, ' ms'),
    told('99 % of the uploads within', `${quantile(met.uploadMs, 0.99).toFixed(0)} ms`),
    atMost('memory of the server', app.serverMemory() / 1e6, 1000, ' MB'),
  ]
}

/** As many as the system lets this process open. */
async function idleConnections(app: Besieged, count: number): Promise<Socket[]> {
  const { port } = new URL(app.url)
  const open = () =>
    new Promise<Socket | undefined>((resolve) => {
      const socket = connect(Number(port), '127.0.0.1', () => resolve(socket))
      socket.on('error', () => resolve(undefined)) // the server closes it after a while: that is its right
    })
  const all: Socket[] = []
  for (let k = 0; k < count; k += 500) {
    const some = await Promise.all(Array.from({ length: Math.min(500, count - k) }, open))
    all.push(...some.filter((socket) => socket !== undefined))
  }
  return all
}
