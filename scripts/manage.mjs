// npm run demo:reset, storage, access: commands about what is kept, beside a running app or without it.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { installPackages, root } from './prepare.mjs'
import { serverBuild } from './serverBuild.mjs'
import { withDatabase } from './withDatabase.mjs'

installPackages()
const manage = join(await serverBuild(), 'manage.mjs')
const status = await withDatabase(
  (settings) =>
    spawnSync('node', [manage, ...process.argv.slice(2)], {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, ...settings },
    }).status,
)
process.exit(status ?? 1)
