import { anyTransferFunction } from './transferFunction'
import { lag } from './lag'
import { lead } from './lead'
import { lowPass } from './lowPass'
import { notch } from './notch'
import type { Filter } from './filter'

/** In the order people see. */
export const filters: readonly Filter[] = [lowPass, notch, lead, lag, anyTransferFunction]
export type { Filter, FilterValues } from './filter'
