import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'

/** The clone: the server runs from its sources in tests and from a build below the clone otherwise. */
function root(from = import.meta.dirname): string {
  if (existsSync(join(from, 'server', 'store', 'migrations'))) return from
  if (dirname(from) === from) throw new Error('The server runs outside its clone, without the demo and the migrations.')
  return root(dirname(from))
}

export const demoFolder = join(root(), 'demo')
export const migrationsFolder = join(root(), 'server', 'store', 'migrations')
