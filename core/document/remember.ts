/** An answer by its key, made where it is not known yet. At `most` answers all are let go and begin anew. */
export function remembered<Answer>(answers: Map<string, Answer>, most: number, key: string, make: () => Answer): Answer {
  if (answers.has(key)) return answers.get(key)!
  const made = make()
  if (answers.size >= most) answers.clear()
  answers.set(key, made)
  return made
}

/** The same for answers that are about something which nobody changes in place: they go with it, all of them kept unless told. */
export function rememberedOf<Owner extends object, Answer>(
  answers: WeakMap<Owner, Map<string, Answer>>,
  owner: Owner,
  key: string,
  make: () => Answer,
  most = Infinity,
): Answer {
  let mine = answers.get(owner)
  if (mine === undefined) answers.set(owner, (mine = new Map()))
  return remembered(mine, most, key, make)
}
