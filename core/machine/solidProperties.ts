/** Mass properties as plain numbers, in the axes they were asked for. */
export interface SolidProperties {
  /** kg */
  readonly mass: number
  /** m */
  readonly centre: readonly [number, number, number]
  /** xx, yy, zz, xy, xz, yz about the centre, entries of the matrix, kg·m² */
  readonly inertia: readonly [number, number, number, number, number, number]
}
