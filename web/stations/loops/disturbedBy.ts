/** Before the name of a disturbance among what can be asked. */
export const disturbedBy = 'disturbed by '
