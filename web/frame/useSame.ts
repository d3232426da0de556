import { useState } from 'react'

/** The first of values that are the same in a text: what hangs on it is not drawn anew for another that says no more. */
export function useSame<Value>(value: Value, text: string): Value {
  const [last, setLast] = useState({ value, text })
  if (last.text === text) return last.value
  setLast({ value, text })
  return value
}
