/** An input, force or chain as people say it: `drives.hoist` is hoist. */
export function shortInput(name: string): string {
  return name.replace(/^(drives|forces|chains)\./, '')
}

/** A coordinate as people say it: `boom.angle` is boom. */
export function shortCoordinate(name: string): string {
  return name.replace(/\.(angle|travel)$/, '')
}
