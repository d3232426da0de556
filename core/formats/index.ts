export {
  documentOfBundle,
  meshOfBundle,
  isMeshFile,
  keepBundleMeshes,
  keptPlaces,
  packBundle,
  robotOfFiles,
  unzipFiles,
  withMeshes,
} from './bundle'
export type { Files } from './bundle'
export { packRecord, readRecordHead, unpackRecord } from './packedRecord'
export type { ReadHead, RecordHead } from './packedRecord'
export { isKeptTable, keptTableName, packTable, thinnedTable, unpackTable } from './packedTable'
export { DelimitedReader, parseDelimited } from './delimited'
export { recordToCsv } from './csv'
export type { CsvAngles } from './csv'
export { linkTableMachine } from './linkTable'
export { parseMesh } from './meshFiles'
export type { MeshReading } from './meshFiles'
export { parseUrdf } from './urdf'
export { robotMachine } from './robotMachine'
export type { LinkConvention, LinkRow } from './linkTable'
export type { Robot, RobotGeometry, RobotJoint, RobotLink } from './robot'
export type { RobotMachine } from './robotMachine'
export { mechanismToUrdf } from './urdfText'
export { mostTableCharacters, parseNumberRows } from './numberRows'
export { parseEquations } from './equationText'
export { matricesToText, parseMatrices } from './matrixText'
export { parseLinkTable } from './linkTableText'
export type { TypedMachine } from './equationText'
