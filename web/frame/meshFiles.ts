/** What meshes are read from. */
export const meshFiles = '.stl,.obj,.glb,.gltf'
