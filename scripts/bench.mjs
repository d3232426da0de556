// npm run bench: speed as ratios and figures, minima over interleaved rounds, since machines are noisy.
import { spawnSync } from 'node:child_process'
import { installDebian, installPackages, isCommand, root } from './prepare.mjs'

installPackages()
installDebian(['gcc', 'libc6-dev'], () => isCommand('gcc'))
spawnSync('npx', ['--no-install', 'vite', 'build', 'web', '--logLevel', 'error'], { cwd: root, stdio: 'inherit' })
process.exit(spawnSync('node', ['--import', 'tsx', 'scripts/bench/main.ts'], { cwd: root, stdio: 'inherit' }).status ?? 1)
