import { randomUUID } from 'node:crypto'
import { promisify } from 'node:util'
import { gzip } from 'node:zlib'
import type { ZlibOptions } from 'node:zlib'
import { recordPieceBytes } from '../../core/document'
import type { Document } from '../../core/document'
import { packRecord } from '../../core/formats'

export interface Saved {
  readonly revision: number
  readonly title: string
}

/** Counts of what a saver met. */
export interface Met {
  readonly statuses: Map<number | 'none', number>
  readonly saveMs: number[]
  readonly uploadMs: number[]
  conflicts: number
}

export function metNothing(): Met {
  return { statuses: new Map(), saveMs: [], uploadMs: [], conflicts: 0 }
}

/** One person at work on one project, who saves as the page does: with ids, following what was not answered, coming back when told. */
export class Saver {
  readonly acknowledged: Saved[] = []
  readonly runs: { readonly hash: string; readonly bytes: Uint8Array }[] = []
  private revision = 1
  private attempts: string[] = []
  private count = 0

  constructor(
    private readonly url: string,
    readonly project: string,
    private readonly document: Document,
    private readonly met: Met,
  ) {}

  async create(): Promise<void> {
    await this.ask('POST', '/api/projects', JSON.stringify({ id: this.project, document: this.document }))
  }

  /** One edit, until it is acknowledged or `over` says stop. */
  async save(over: () => boolean): Promise<void> {
    const title = `Edit ${++this.count}`
    const save = randomUUID()
    const began = performance.now()
    while (!over()) {
      const body = JSON.stringify({
        ...{ revision: this.revision, label: title, save, document: { ...this.document, title } },
        follows: this.attempts.filter((one) => one !== save),
      })
      if (!this.attempts.includes(save)) this.attempts = [...this.attempts, save].slice(-20)
      const answer = await this.ask('PUT', `/api/projects/${this.project}`, body)
      if (answer?.status === 200) {
        const { revision } = (await answer.json().catch(() => ({}))) as { revision?: number }
        if (revision === undefined) continue // cut off: sent again it is the same save
        this.revision = revision
        this.attempts = []
        this.acknowledged.push({ revision, title })
        this.met.saveMs.push(performance.now() - began)
        return
      }
      if (answer?.status === 409) {
        this.met.conflicts++
        const { current } = (await answer.json()) as { current: { revision: number } }
        this.revision = current.revision
        this.attempts = []
      } else await pause(answer)
    }
  }

  /** Uploads a run of about so many bytes, until it is acknowledged or `over` says stop. */
  async upload(bytes: number, over: () => boolean): Promise<void> {
    const hash = randomUUID().replaceAll('-', '')
    const packed = randomRecord(hash, bytes)
    const began = performance.now()
    for (let number = 0; number * recordPieceBytes < packed.length && !over();) {
      const piece = await packedPiece(packed.subarray(number * recordPieceBytes, (number + 1) * recordPieceBytes), { level: 0 })
      const answer = await this.ask('PUT', `/api/projects/${this.project}/runs/${hash}/pieces/${number}`, piece)
      const { complete } = ((await answer?.json().catch(() => undefined)) ?? {}) as { complete?: boolean }
      if (answer?.status === 200 && complete === true) {
        this.runs.push({ hash, bytes: packed })
        this.met.uploadMs.push(performance.now() - began)
        return
      }
      if (answer?.status === 200 && complete === false) number++
      else if (answer?.status === 409) number = 0
      else await pause(answer)
    }
  }

  private async ask(method: string, path: string, body: string | Uint8Array): Promise<Response | undefined> {
    const type = typeof body === 'string' ? 'application/json' : 'application/octet-stream'
    const answer = await fetch(this.url + path, {
      ...{ method, body: body as BodyInit, headers: { 'Content-Type': type } },
      signal: AbortSignal.timeout(40_000),
    }).catch(() => undefined)
    const status = answer?.status ?? 'none'
    this.met.statuses.set(status, (this.met.statuses.get(status) ?? 0) + 1)
    return answer
  }
}

/** As long as the server asked for; a moment where nobody answered. */
function pause(answer: Response | undefined): Promise<void> {
  const seconds = Number(answer?.headers.get('Retry-After') ?? 0)
  return new Promise((resolve) => setTimeout(resolve, seconds > 0 ? 1000 * seconds : 200))
}

/** Beside the saves, whose answers are waited for with a watch. */
const packedPiece = promisify<Uint8Array, ZlibOptions, Buffer>(gzip)

/** Numbers that do not compress, made once for each size. */
const noise = new Map<number, Float64Array>()

function randomRecord(hash: string, bytes: number): Uint8Array {
  const rows = Math.max(1, Math.floor(bytes / 8 / 11))
  const values = noise.get(rows) ?? Float64Array.from({ length: rows }, () => Math.random())
  noise.set(rows, values)
  return packRecord({
    ...{ hash, trial: 'galleryRise', seed: 1, layers: [], ending: { kind: 'finished' } },
    time: values,
    columns: Array.from({ length: 10 }, (_, k) => ({ name: `signal${k}`, label: '', unit: '', role: 'actual', values })),
  })
}
