/** Colours of the theme for 3D, read from the tokens. */
export interface Palette {
  readonly sky: string
  readonly ground: string
  readonly grid: string
  readonly matte: string
  readonly matteShade: string
  readonly dark: string
  readonly edge: string
  readonly ink: string
  readonly kelp: string
  readonly ochre: string
  readonly coral: string
  readonly slate: string
  readonly plum: string
  readonly chalk: string
}

/** `element`: one of the theme that is wanted. */
export function readPalette(element: HTMLElement = document.documentElement): Palette {
  const style = getComputedStyle(element)
  const token = (name: string) => style.getPropertyValue(name).trim()
  return {
    sky: token('--fog'),
    ground: token('--chalk'),
    grid: token('--line-2'),
    matte: token('--mat-top'),
    matteShade: token('--mat-b'),
    dark: token('--mat-dark'),
    edge: token('--edge'),
    ink: token('--ink'),
    kelp: token('--kelp'),
    ochre: token('--ochre'),
    coral: token('--coral'),
    slate: token('--slate'),
    plum: token('--plum'),
    chalk: token('--chalk'),
  }
}
