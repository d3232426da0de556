import { inputShaper } from './inputShaper'

export { shaped } from './inputShaper'

export const shapers = [inputShaper]
