import type { Files } from '@calm-hand/core/formats'

/** Each buffer once: several files may lie in one. */
export function buffersOf(files: Files): ArrayBuffer[] {
  return [...new Set([...files.values()].map(({ buffer }) => buffer as ArrayBuffer))]
}
