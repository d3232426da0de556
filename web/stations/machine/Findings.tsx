import { Place } from '../../frame/Place'
import { ProblemItem } from '../../frame/ProblemItem'
import { useOpen } from '../../state/project'

/** What is wrong with the document, and what is odd, before anything a station finds itself. */
export function Findings({ children }: { readonly children: React.ReactNode }) {
  const problems = useOpen((project) => project.problems)
  const cautions = useOpen((project) => project.cautions)
  return (
    <section className="section" aria-label="Findings">
      <h2 className="pb-1.5">Findings</h2>
      {problems.map((problem) => (
        <ProblemItem key={problem.where + problem.what} problem={problem} />
      ))}
      {cautions.map(({ where, what, remedy }) => (
        <div key={where} className="finding border-ochre mb-2">
          <b className="font-semibold text-ochre-text">{what}</b> {remedy}
          <Place where={where} />
        </div>
      ))}
      {children}
    </section>
  )
}
