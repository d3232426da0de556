import { toggleMark, useMarks } from '../../state/marks'

/** Marks a part, so that it is edited together with others. */
export function MarkBox({ path, name }: { readonly path: string; readonly name: string }) {
  const isMarked = useMarks().includes(path)
  return (
    <input
      type="checkbox"
      className="accent-kelp opacity-60 hover:opacity-100 checked:opacity-100 focus-visible:opacity-100"
      aria-label={`Mark ${name}`}
      title="Mark it, to edit several at once"
      checked={isMarked}
      onChange={() => toggleMark(path)}
    />
  )
}
