import { configure } from '@testing-library/react'
import { afterEach } from 'vitest'
import { answerHere } from '../compute/service'
import { questions } from '../compute/questions'
import { kept } from '../state/kept'

// a page of a test has no workers: what it asks is answered at once
answerHere(questions)
// how long something takes is no matter of a test: a busy machine may take its time
configure({ asyncUtilTimeout: 30_000 })
// what one test heard of the server is nothing to the next
afterEach(() => kept.clear())
