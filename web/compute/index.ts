export { answerTo, ask, forgetQuestions } from './service'
export type { Answer, Arguments, Name } from './service'
export { useAnswer } from './useAnswer'
