export { answerTo, ask, forgetQuestions } from './service'
export { useAnswer } from './useAnswer'
