import { useId } from 'react'
import type { InputHTMLAttributes } from 'react'
import type { FieldPath, FieldValues, UseFormReturn } from 'react-hook-form'

interface TextFieldProps<Values extends FieldValues> {
  readonly form: UseFormReturn<Values>
  readonly name: FieldPath<Values>
  readonly label: string
  /** Several lines. */
  readonly rows?: number
  readonly input?: InputHTMLAttributes<HTMLInputElement>
}

/** A field of a form with its label, and what is wrong with it under it. */
export function TextField<Values extends FieldValues>({ form, name, label, rows, input }: TextFieldProps<Values>) {
  const id = useId()
  const wrong = form.getFieldState(name, form.formState).error?.message
  const props = {
    ...form.register(name),
    'aria-invalid': wrong !== undefined,
    'aria-describedby': wrong === undefined ? undefined : id,
    className: 'w-full px-2 border border-line-2 rounded-md bg-transparent aria-invalid:border-coral',
  }
  return (
    <label className="grid gap-1">
      {label}
      {rows === undefined ? (
        <input {...input} {...props} className={`${props.className} h-9`} />
      ) : (
        <textarea {...props} className={`${props.className} py-1.5`} rows={rows} />
      )}
      {wrong !== undefined && (
        <span id={id} role="alert" className="text-[12.5px] text-coral-text">
          {wrong}
        </span>
      )}
    </label>
  )
}

/** What a form as a whole was refused for. */
export function Failure<Values extends FieldValues>({ form }: { readonly form: UseFormReturn<Values> }) {
  const what = form.formState.errors.root?.message
  if (what === undefined) return null
  return (
    <p role="alert" className="text-[12.5px] text-coral-text">
      {what}
    </p>
  )
}
