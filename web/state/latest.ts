/** Asks one question at a time; of those that wait only the last one is asked, the others end as `superseded`. */
export function latest<Question, Answer>(ask: (question: Question) => Promise<Answer>) {
  let waiting: { readonly question: Question; readonly answer: (found: Answer | typeof superseded) => void } | undefined
  let busy = false
  const work = async () => {
    if (busy) return
    busy = true
    for (let next = waiting; next !== undefined; next = waiting) {
      waiting = undefined
      try {
        next.answer(await ask(next.question))
      } catch {
        next.answer(superseded)
      }
    }
    busy = false
  }
  return (question: Question): Promise<Answer | typeof superseded> =>
    new Promise((answer) => {
      waiting?.answer(superseded)
      waiting = { question, answer }
      void work()
    })
}

export const superseded = Symbol('a later question came first, or there is no answer')
