// The server as a process that is started again when it ends by itself. Plain Node, no packages.
import { fork } from 'node:child_process'
import { join } from 'node:path'
import { root } from './prepare.mjs'
import { serverBuild } from './serverBuild.mjs'

/** A server that ends by itself after it has listened is started again, after this long; later and later while it does not listen. */
const againMs = 300
const longestMs = 5_000

/**
 * Starts the server with these settings. `onListening` is told the port each time it listens, `onEnd` the status once it is over:
 * when it never listened, or was asked to stop.
 */
export async function supervise(settings, { onListening, onEnd, onAgain = () => undefined }) {
  const main = join(await serverBuild(), 'main.mjs')
  let child
  let over = false
  let hasListened = false
  let failures = 0
  const serve = (port) => {
    let listened
    child = fork(main, [], {
      cwd: root,
      execArgv: [],
      env: { ...settings, ...(port === undefined ? {} : { PORT: port }) },
    })
    child.on('message', ({ listening }) => {
      listened = String(listening)
      hasListened = true
      failures = 0
      onListening(listening)
    })
    child.on('exit', (code) => {
      if (over || !hasListened) return onEnd(code ?? 0)
      onAgain()
      setTimeout(() => serve(listened ?? port), Math.min(againMs * 2 ** failures++, longestMs))
    })
  }
  serve(settings.PORT)
  return {
    get pid() {
      return child.pid
    },
    stop: (signal = 'SIGTERM') => {
      over = true
      child.kill(signal)
    },
  }
}
