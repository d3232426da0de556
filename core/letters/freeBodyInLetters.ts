import type { BodyLoad } from '../machine'
import { upright } from './names'

/**
 * Newton's and Euler's equations of a body in letters, with all that acts on it: R and M are what joints carry, F what
 * forces, drives and chains do, r where they act seen from the joint that the body hangs on by `on`.
 */
export function freeBodyInLetters(body: string, on: string, loads: readonly BodyLoad[]): readonly string[] {
  const named = `{${upright(body)}}`
  const acts = loads.filter(({ force }) => isSomething(force))
  const forces = acts.map((load) => forceToLatex(body, load))
  const levers = acts
    .filter(({ sort, from }) => sort !== 'joint' || from !== on)
    .map((load) => `\\vec r_{${upright(sourceOf(load))}} \\times ${forceToLatex(body, load)}`)
  const moments = loads.filter(({ moment }) => isSomething(moment)).map((load) => `\\vec M_{${upright(sourceOf(load))}}`)
  return [`${summed(forces)} = m_${named}\\,\\vec a_${named}`, `${summed([...levers, ...moments])} = \\dot{\\vec L}_${named}`]
}

function summed(terms: readonly string[]): string {
  return terms.length === 0 ? '0' : terms.join(' + ')
}

function forceToLatex(body: string, load: BodyLoad): string {
  if (load.sort === 'weight') return `m_{${upright(body)}}\\,\\vec g`
  return `\\vec ${load.sort === 'joint' ? 'R' : 'F'}_{${upright(sourceOf(load))}}`
}

function sourceOf({ from }: BodyLoad): string {
  return from.replace(/^(drives|forces|chains)\./, '')
}

function isSomething(vector: readonly number[]): boolean {
  return vector.some((value) => value !== 0)
}
