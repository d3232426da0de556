export { packRecord, unpackRecord } from './packedRecord'
export { recordToCsv } from './csv'
