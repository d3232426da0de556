import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { checkDocument } from '@calm-hand/core'
import { trialLayers } from '@calm-hand/core/machine'
import { compile, start } from '@calm-hand/core/simulation'
import { landMesh } from '../../core/tests/meshes'
import type { Row } from './mechanisms'

const hash = 'a'.repeat(64)

/** Six feet of the walker on a mesh of 200,000 triangles, which it lands on and slides down: 2 s. */
export function standingRows(least: (rounds: number, action: (round: number) => void) => number): Row[] {
  const given = JSON.parse(readFileSync(join(process.cwd(), 'demo', 'rock-walker.json'), 'utf8')) as object
  const realism = Object.fromEntries(trialLayers.map(({ name }) => [name, true]))
  const land = { ...{ kind: 'trial', title: 'Land', machine: 'walker', cues: {}, after: 2, step: 0.001, seed: 1 }, overrides: {}, realism: { kind: 'realism', ...realism }, scene: 'wall' } // prettier-ignore
  const hill = { kind: 'mesh', at: [0, 0, 0], turned: [0, 0, 0], file: 'hill.stl', mesh: hash, scale: [1, 1, 1] }
  const checked = checkDocument({
    ...given,
    trials: { land: { ...land, method: 'fixed' }, measured: { ...land, method: 'adaptive' } },
    scenes: { wall: { kind: 'scene', obstacles: { hill } } },
  })
  if (checked.kind === 'refused') throw new Error(JSON.stringify(checked.problems))
  const made = () => landMesh(223, 6, -0.5, (x, y) => 0.05 * Math.sin(3 * x) * Math.cos(2 * y) + 0.01 * Math.sin(17 * x + 5 * y))
  const load = (mesh: ReturnType<typeof made>, trial: string) => {
    const program = compile(checked.value.resolved, trial, { findMesh: () => mesh })
    if (program.kind === 'refused') throw new Error(JSON.stringify(program.problems))
    return start(program.value)
  }
  const meshes = Array.from({ length: 3 }, made)
  const loading = least(3, (round) => load(meshes[round]!, 'land'))
  const times = (trial: string) => {
    const simulation = load(meshes[0]!, trial)
    return (2000 / least(25, () => simulation.run({ trial, layers: [], seed: 1 }))).toFixed(0)
  }
  return [
    ['a mesh of 200,000 triangles looked at, divided and in a program', `${loading.toFixed(0)} ms`, '<= 2000 ms'],
    ['six feet of the walker on it, fixed steps of 1 ms, against real time', `${times('land')} times`, '>= 20'],
    ['the same with steps that measure their error', `${times('measured')} times`, ''],
  ]
}
