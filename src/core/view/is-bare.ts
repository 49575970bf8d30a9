import { faceCountOf, type Mesh } from '../scene/mesh.ts'

/** Whether a mesh has neither polygons nor lines: its points are all that there is to be seen. */
export const isBare = (mesh: Mesh): boolean => faceCountOf(mesh) === 0 && !mesh.lines?.points.length
