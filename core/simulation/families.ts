import type { Column, FamilyPlace } from './record'

/** Columns of one sort over a second index: what all tyres carry, a plan over its horizon. */
export interface Family<Of extends Column = Column> extends Omit<FamilyPlace, 'at'> {
  readonly unit: string
  /** In the order of the record. */
  readonly members: readonly { readonly at: string | number; readonly column: Of }[]
}

/**
 * Families of two columns or more. Where efforts of one name are forces and torques, they are two, whose names say their
 * units: `derrick.drives.effort [N]`.
 */
export function familiesOf<Of extends Column>(columns: readonly Of[]): readonly Family<Of>[] {
  const found = new Map<string, { place: FamilyPlace; unit: string; members: { at: string | number; column: Of }[] }>()
  for (const column of columns) {
    const { family: place, unit } = column
    if (place === undefined) continue
    const key = `${place.name} ${unit}`
    const known = found.get(key) ?? { place, unit, members: [] }
    found.set(key, known)
    known.members.push({ at: place.at, column })
  }
  const all = [...found.values()]
  const isAlone = (name: string) => all.filter(({ place }) => place.name === name).length === 1
  return all.flatMap(({ place: { name, label, over }, unit, members }) =>
    members.length < 2 ? [] : [{ name: isAlone(name) ? name : `${name} [${unit}]`, label, over, unit, members }],
  )
}

export function findFamily<Of extends Column>(columns: readonly Of[], name: string): Family<Of> | undefined {
  return familiesOf(columns).find((family) => family.name === name)
}
