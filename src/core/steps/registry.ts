import type { StepDescriptor } from './step.ts'
import { assignMaterial } from './materials/assign-material.ts'
import { bakeTransforms } from './scene/bake-transforms.ts'
import { changeSpace } from './scene/change-space.ts'
import { cleanNames } from './parts/clean-names.ts'
import { convertSmoothing } from './shading/convert-smoothing.ts'
import { dissolveTwoEdgePointsStep } from './clean/dissolve-two-edge-points.ts'
import { groupUnderRoot } from './parts/group-under-root.ts'
import { joinParts } from './parts/join-parts.ts'
import { keepOneTwin } from './parts/keep-one-twin.ts'
import { makeFaceGroups } from './polygons/make-face-groups.ts'
import { mirrorPart } from './polygons/mirror-part.ts'
import { colorsFromMaterials } from './materials/colors-from-materials.ts'
import { idMapFromMaterials } from './materials/id-map-from-materials.ts'
import { materialsFromIdMap } from './materials/materials-from-id-map.ts'
import { materialsFromColors } from './materials/materials-from-colors.ts'
import { materialsFromGroups } from './materials/materials-from-groups.ts'
import { mergeEqualMaterials } from './materials/merge-equal-materials.ts'
import { renameMaterials } from './materials/rename-materials.ts'
import { oneMaterial } from './materials/one-material.ts'
import { pairTrianglesStep } from './polygons/pair-triangles.ts'
import { removeBroken } from './clean/remove-broken.ts'
import { removeDoubles } from './clean/remove-doubles.ts'
import { removeHiddenParts } from './parts/remove-hidden-parts.ts'
import { removeHidden } from './clean/remove-hidden.ts'
import { removeLoose } from './clean/remove-loose.ts'
import { removeParts } from './parts/remove-parts.ts'
import { removePolygons } from './polygons/remove-polygons.ts'
import { replaceMaterial } from './materials/replace-material.ts'
import { removeUnusedMaterials } from './materials/remove-unused-materials.ts'
import { removeZeroSize } from './clean/remove-zero-size.ts'
import { renameParts } from './parts/rename-parts.ts'
import { renameUvSet } from './uvs/rename-uv-set.ts'
import { restorePolygonsStep } from './polygons/restore-polygons.ts'
import { scaleToSize } from './scene/scale-to-size.ts'
import { setNormals } from './shading/set-normals.ts'
import { setPivot } from './scene/set-pivot.ts'
import { setShading } from './shading/set-shading.ts'
import { splitLongPolygons } from './polygons/split-long-polygons.ts'
import { splitNonManifold } from './clean/split-non-manifold.ts'
import { splitParts } from './parts/split-parts.ts'
import { stripCamerasAndLights } from './scene/strip-cameras-and-lights.ts'
import { subdivide } from './polygons/subdivide.ts'
import { supportLoops } from './polygons/support-loops.ts'
import { takeInPointsStep } from './clean/take-in-points.ts'
import { toFloor } from './scene/to-floor.ts'
import { triangulate } from './polygons/triangulate.ts'
import { turnFacesStep } from './polygons/turn-faces.ts'
import { unwrap } from './uvs/unwrap.ts'
import { relaxUvs } from './uvs/relax-uvs.ts'
import { packIslands } from './uvs/pack-islands.ts'
import { orientIslands } from './uvs/orient-islands.ts'
import { straightenIslands } from './uvs/straighten-islands.ts'
import { flipIslands } from './uvs/flip-islands.ts'
import { makePanels } from './uvs/make-panels.ts'
import { moveUvs } from './uvs/move-uvs.ts'
import { panelsBetweenLines } from './uvs/panels-between-lines.ts'
import { islandsIntoTile } from './uvs/islands-into-tile.ts'
import { cutUvs } from './uvs/cut-uvs.ts'
import { sewUvs } from './uvs/sew-uvs.ts'
import { sewTinyCuts } from './uvs/sew-tiny-cuts.ts'
import { islandsFromGroups } from './uvs/islands-from-groups.ts'
import { groupsFromIslands } from './uvs/groups-from-islands.ts'
import { projectUvs } from './uvs/project-uvs.ts'
import { copyUvSet } from './uvs/copy-uv-set.ts'
import { removeUvSet } from './uvs/remove-uv-set.ts'
import { weldBorders } from './clean/weld-borders.ts'
import { weldByDistance } from './clean/weld-by-distance.ts'

/** All steps, in the order in which they are listed. */
export const STEPS: readonly StepDescriptor[] = [
  // clean
  weldByDistance,
  weldBorders,
  removeLoose,
  removeBroken,
  removeHidden,
  removeDoubles,
  removeZeroSize,
  splitNonManifold,
  dissolveTwoEdgePointsStep,
  takeInPointsStep,
  // polygons
  removePolygons,
  turnFacesStep,
  subdivide,
  supportLoops,
  triangulate,
  restorePolygonsStep,
  pairTrianglesStep,
  splitLongPolygons,
  mirrorPart,
  makeFaceGroups,
  // shading
  setShading,
  convertSmoothing,
  setNormals,
  // UVs
  unwrap,
  relaxUvs,
  packIslands,
  orientIslands,
  straightenIslands,
  flipIslands,
  moveUvs,
  panelsBetweenLines,
  makePanels,
  islandsIntoTile,
  cutUvs,
  sewUvs,
  sewTinyCuts,
  islandsFromGroups,
  groupsFromIslands,
  projectUvs,
  copyUvSet,
  renameUvSet,
  removeUvSet,
  // parts
  splitParts,
  joinParts,
  keepOneTwin,
  groupUnderRoot,
  renameParts,
  cleanNames,
  removeHiddenParts,
  removeParts,
  // scene
  bakeTransforms,
  changeSpace,
  scaleToSize,
  toFloor,
  setPivot,
  stripCamerasAndLights,
  // materials
  oneMaterial,
  assignMaterial,
  replaceMaterial,
  renameMaterials,
  mergeEqualMaterials,
  materialsFromGroups,
  colorsFromMaterials,
  materialsFromColors,
  idMapFromMaterials,
  materialsFromIdMap,
  removeUnusedMaterials,
]

/** The step of an id; null for none. */
export const stepOf = (id: string): StepDescriptor | null => STEPS.find((step) => step.id === id) ?? null
