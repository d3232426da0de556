/** Says which engine made a run: a hash of the sources that decide its numbers. Written by `npm run engine`, held by a test. */
export const engineVersion = 'c75fa481c4d6895e'
