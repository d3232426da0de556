/** Says which engine made a run: a hash of the sources that decide its numbers. Written by `npm run engine`, held by a test. */
export const engineVersion = 'e78253d0591164c7'
