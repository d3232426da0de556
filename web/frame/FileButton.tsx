interface FileButtonProps {
  readonly children: React.ReactNode
  /** Endings that are offered: `.stl,.obj`. */
  readonly accept: string
  readonly multiple?: boolean
  readonly className?: string
  readonly onFiles: (files: FileList | null) => void
}

/** A button that asks for a file, with the field that keyboards reach. */
export function FileButton({ children, accept, multiple = false, className = '', onFiles }: FileButtonProps) {
  return (
    <label className={`button small cursor-pointer focus-within:outline-2 focus-within:outline-kelp ${className}`}>
      {children}
      <input type="file" className="sr-only" {...{ accept, multiple }} onChange={(event) => onFiles(event.target.files)} />
    </label>
  )
}
