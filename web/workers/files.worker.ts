import { expose } from 'comlink'
import { fileReader } from './fileReader'

/** One file a worker: cancelling ends it at once. */
expose(fileReader)
