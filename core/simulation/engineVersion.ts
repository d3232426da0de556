/** Says which engine made a run: a hash of the sources that decide its numbers. Written by `npm run engine`, held by a test. */
export const engineVersion = '2a7e695f094df150'
