export { DataTable } from './DataTable'
export type { TableColumn } from './DataTable'
