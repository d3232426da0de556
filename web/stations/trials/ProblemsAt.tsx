import { useOpen } from '../../state/project'

/** What is wrong at a path of the document, or inside it. */
export function ProblemsAt({ path }: { readonly path: string }) {
  const problems = useOpen((project) => project.problems)
  return problems
    .filter(({ where }) => where === path || where.startsWith(`${path}.`))
    .map(({ where, what, remedy }) => (
      <p key={where + what} role="alert" className="text-[12.5px] text-coral-text [overflow-wrap:anywhere]">
        {what} {remedy}
      </p>
    ))
}
