/** Says which engine made a run: a hash of the sources that decide its numbers. Written by `npm run engine`, held by a test. */
export const engineVersion = 'f35990889839cfe6'
