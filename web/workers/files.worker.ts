import { expose } from 'comlink'
import { reading } from './reading'

/** One file a worker: cancelling ends it at once. */
expose(reading)
