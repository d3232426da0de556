import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'

/** Line drawings of the simple figures, seen from aside and above. */
const drawings: Readonly<Record<string, readonly { readonly d: string; readonly fill: string }[]>> = {
  boat: [
    { d: 'M-78 8 L38 8 Q66 -4 84 -22 L-72 -14 Z', fill: 'var(--mat-top)' },
    { d: 'M-78 8 L38 8 Q66 -4 84 -22 Q72 16 46 26 L-66 26 Z', fill: 'var(--mat-a)' },
    { d: 'M-34 -8 L6 -10 L14 -34 L-26 -34 Z', fill: 'var(--mat-b)' },
    { d: 'M-26 -34 L14 -34 L22 -38 L-18 -38 Z', fill: 'var(--mat-top)' },
  ],
  wing: [
    { d: 'M-80 4 L70 -2 Q88 2 70 8 L-80 10 Z', fill: 'var(--mat-a)' },
    { d: 'M0 2 L28 2 L60 46 L38 48 Z', fill: 'var(--mat-top)' },
    { d: 'M4 0 L30 0 L10 -40 L-8 -38 Z', fill: 'var(--mat-b)' },
    { d: 'M-78 4 L-64 4 L-72 -22 L-84 -22 Z', fill: 'var(--mat-b)' },
  ],
  cart: [
    { d: 'M-70 -6 L60 -6 L78 -24 L-52 -24 Z', fill: 'var(--mat-top)' },
    { d: 'M-70 -6 L60 -6 L60 18 L-70 18 Z', fill: 'var(--mat-a)' },
    { d: 'M60 -6 L78 -24 L78 0 L60 18 Z', fill: 'var(--mat-b)' },
    { d: 'M-54 24 a12 12 0 1 0 24 0 a12 12 0 1 0 -24 0 M20 24 a12 12 0 1 0 24 0 a12 12 0 1 0 -24 0', fill: 'var(--mat-b)' },
  ],
  disc: [
    { d: 'M-70 6 a70 26 0 0 0 140 0 L70 -6 a70 26 0 0 1 -140 0 Z', fill: 'var(--mat-a)' },
    { d: 'M-70 -6 a70 26 0 1 0 140 0 a70 26 0 1 0 -140 0 Z', fill: 'var(--mat-top)' },
    { d: 'M0 -6 L58 -14', fill: 'none' },
  ],
  block: [
    { d: 'M-60 -10 L40 -10 L68 -30 L-32 -30 Z', fill: 'var(--mat-top)' },
    { d: 'M-60 -10 L40 -10 L40 30 L-60 30 Z', fill: 'var(--mat-a)' },
    { d: 'M40 -10 L68 -30 L68 10 L40 30 Z', fill: 'var(--mat-b)' },
  ],
}

/** A machine without bodies: its figure, or its states as beads where it has none. */
export function FigureDrawing({ machine }: { readonly machine: Part }) {
  const [figure] = Object.values(partsIn(machine.figure))
  const names = (group: string) => Object.keys(partsIn(machine[group])).slice(0, 6)
  const column = (list: readonly string[], x: number) =>
    list.map((name, i) => ({ name, x, y: ((i + 0.5) / list.length - 0.5) * 110 }))
  const [inputs, states] = [column(names('inputs'), -60), column(names('states'), 40)]
  return (
    <svg
      viewBox="-100 -70 200 140"
      width="200"
      height="140"
      aria-hidden="true"
      stroke="var(--edge)"
      strokeWidth="1.1"
      strokeLinejoin="round"
    >
      {figure !== undefined
        ? (drawings[figure.shape as string] ?? []).map(({ d, fill }) => <path key={d} d={d} fill={fill} />)
        : inputs.flatMap((from) =>
            states.map((to) => (
              <path
                key={from.name + to.name}
                d={`M${from.x} ${from.y} C-10 ${from.y} -10 ${to.y} ${to.x} ${to.y}`}
                fill="none"
                stroke="var(--line-2)"
              />
            )),
          )}
      {figure === undefined &&
        [...inputs, ...states].map(({ name, x, y }) => (
          <circle key={name} cx={x} cy={y} r="6" fill="var(--chalk)" stroke="var(--kelp)" />
        ))}
    </svg>
  )
}
