/** Bytes of a mesh file that is read: a binary STL of as many triangles as are read has 100 MB. */
export const mostMeshBytes = 110_000_000

/** More triangles than this are refused: nothing could draw them fluently, and no mass needs them. */
export const mostTriangles = 2_000_000
