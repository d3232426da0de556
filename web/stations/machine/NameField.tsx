import { useState } from 'react'
import { partName } from '@calm-hand/core/kinds'

/** A name that formulas use: taken with Enter or on leaving, everywhere at once. */
export function NameField({ name, onRename }: { readonly name: string; readonly onRename: (next: string) => void }) {
  const [text, setText] = useState(name)
  const usable = partName.test(text)
  const take = () => usable && text !== name && onRename(text)
  return (
    <label className="flex items-baseline justify-between gap-2 min-h-[24px] text-[12.5px]">
      <span>name</span>
      <input
        className="number w-[140px] text-right bg-transparent border-b border-line-2 outline-none focus:border-kelp"
        aria-invalid={!usable}
        title={usable ? undefined : 'Names start with a small letter and hold letters and digits only, at most 40.'}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take()
          if (event.key === 'Escape') setText(name)
        }}
      />
    </label>
  )
}
