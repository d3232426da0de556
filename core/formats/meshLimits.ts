/** More triangles than this are refused: nothing could draw them fluently, and no mass needs them. */
export const mostTriangles = 2_000_000
