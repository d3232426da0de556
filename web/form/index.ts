export { Failure, TextField } from './TextField'
export { useJoiForm } from './useJoiForm'
