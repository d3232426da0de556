// npm run demo:reset, storage, access: commands about what is kept, beside a running app or without it.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { installPackages, root } from './prepare.mjs'
import { withDatabase } from './withDatabase.mjs'

installPackages()
const status = await withDatabase(
  (settings) =>
    spawnSync('node', ['--import', 'tsx', join(root, 'server', 'manage.ts'), ...process.argv.slice(2)], {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, ...settings },
    }).status,
)
process.exit(status ?? 1)
