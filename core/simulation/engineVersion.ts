/** Says which engine made a run: a hash of the sources that decide its numbers. Written by `npm run engine`, held by a test. */
export const engineVersion = '020ef4b7544eac8a'
