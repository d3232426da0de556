/** Words with a capital first letter, for titles. */
export function capital(label: string): string {
  return `${label[0]!.toUpperCase()}${label.slice(1)}`
}
