import { facesByIsland, findIslands } from '../../uv/find-islands.ts'
import { groupedElements, type CheckDescriptor } from '../check.ts'

export const islandsAgainstGroups: CheckDescriptor = {
  id: 'islands-against-groups',
  area: 'uvs',
  scope: 'part',
  title: 'Islands against face groups',
  why: 'With one group an island, islands can be picked, hidden and masked by name in the next tool.',
  reads: ['faceVertices', 'faceOffsets', 'uvSets', 'groups'],
  problems: {
    mixed: {
      severity: 'info',
      text: '{count} [island|islands] [holds|hold] polygons of more than one face group.',
    },
    spread: {
      severity: 'info',
      text: '{count} [face group|face groups] [is|are] spread over several islands.',
    },
  },
  run({ mesh }, report) {
    const set = mesh.uvSets[0]
    if (!set || !mesh.groups) return
    const { faceSets, sets, names } = mesh.groups
    const { islandCount, faceIslands } = findIslands(mesh, set)
    const islandFaces = facesByIsland(faceIslands, islandCount)
    const mixed = islandFaces.filter((faces) => faces.some((face) => faceSets[face] !== faceSets[faces[0]!]))
    const fix = { step: 'make-face-groups', params: { from: 'islands' } }
    if (mixed.length)
      report({ problem: 'mixed', count: mixed.length, places: groupedElements('faces', mixed), fix })
    const groupFaces: number[][] = names.map(() => [])
    for (let face = 0; face < faceSets.length; face++)
      for (const group of faceSets[face]! >= 0 ? sets[faceSets[face]!]! : []) groupFaces[group]!.push(face)
    const spread = groupFaces.filter((faces) => new Set(faces.map((face) => faceIslands[face]!)).size > 1)
    if (spread.length)
      report({ problem: 'spread', count: spread.length, places: groupedElements('faces', spread), fix })
  },
}
