export { arx, recursiveArx } from './arx'
export type { ArxFit, ArxOrders } from './arx'
