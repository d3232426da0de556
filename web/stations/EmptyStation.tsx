import { Link, useParams } from 'react-router'

interface EmptyStationProps {
  readonly title: string
  /** What is missing, and what to do next. */
  readonly children: React.ReactNode
  /** What makes the first one, where that can be done here. */
  readonly action?: React.ReactNode
}

/** A station that has nothing to show yet: one sentence, one way on. */
export function EmptyStation({ title, children, action }: EmptyStationProps) {
  const { project } = useParams()
  return (
    <main className="h-full grid place-items-center">
      <div className="max-w-[420px] text-center">
        <h1 className="pb-2">{title}</h1>
        <p className="pb-4">{children}</p>
        <div className="flex justify-center gap-2">
          {action}
          <Link className="button main inline-flex" to={`/${project}/machine`}>
            To the machine
          </Link>
        </div>
      </div>
    </main>
  )
}
