/** A number in words: four figures. */
export function show(value: number): string {
  return String(Number(value.toPrecision(4)))
}
