import { joiResolver } from '@hookform/resolvers/joi'
import type Joi from 'joi'
import { useForm } from 'react-hook-form'
import type { DefaultValues, FieldValues, UseFormReturn } from 'react-hook-form'

/**
 * A form whose fields are checked by a schema while they are typed. What the schema says of a field, and what a server says of
 * the whole (`setError('root', ...)`), is told by `TextField` and `Failure`.
 */
export function useJoiForm<Values extends FieldValues>(
  schema: Joi.ObjectSchema<Values>,
  defaultValues: DefaultValues<Values>,
): UseFormReturn<Values> {
  return useForm<Values>({
    resolver: joiResolver(schema, { abortEarly: false, messages: said }),
    defaultValues,
    mode: 'onChange',
  })
}

const said = {
  'string.empty': 'Something must stand here.',
  'string.max': 'At most {#limit} letters fit.',
  'any.required': 'Something must stand here.',
}
