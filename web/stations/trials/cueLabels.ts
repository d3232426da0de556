const rowHeight = 13
/** What keeps the second row clear of the circles. */
const belowCircles = 7
/** Share of the lane that a label takes. */
const labelShare = 0.2

/** px that a label stands lower in its row. */
export function labelDrop(row: number): number {
  return row === 0 ? 0 : belowCircles + rowHeight * row
}

/** The row of each label, so that those of cues close in time stand under each other. */
export function labelRows(times: readonly number[], end: number): number[] {
  const taken: { at: number; row: number }[] = []
  return times.map((at) => {
    const near = taken.filter((one) => Math.abs(one.at - at) < labelShare * end).map(({ row }) => row)
    let row = 0
    while (near.includes(row)) row++
    taken.push({ at, row })
    return row
  })
}
