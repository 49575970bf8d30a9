import type { StepDescriptor } from './step.ts'
import { assignMaterial } from './assign-material.ts'
import { bakeTransforms } from './bake-transforms.ts'
import { changeSpace } from './change-space.ts'
import { cleanNames } from './clean-names.ts'
import { convertSmoothing } from './convert-smoothing.ts'
import { dissolveTwoEdgePoints } from './dissolve-two-edge-points.ts'
import { groupUnderRoot } from './group-under-root.ts'
import { joinParts } from './join-parts.ts'
import { keepOneTwin } from './keep-one-twin.ts'
import { makeFaceGroups } from './make-face-groups.ts'
import { mirrorPart } from './mirror-part.ts'
import { oneMaterial } from './one-material.ts'
import { pairTriangles } from './pair-triangles.ts'
import { removeBroken } from './remove-broken.ts'
import { removeDoubles } from './remove-doubles.ts'
import { removeHiddenParts } from './remove-hidden-parts.ts'
import { removeHidden } from './remove-hidden.ts'
import { removeLoose } from './remove-loose.ts'
import { removeUnusedMaterials } from './remove-unused-materials.ts'
import { removeZeroSize } from './remove-zero-size.ts'
import { renameParts } from './rename-parts.ts'
import { renameUvSet } from './rename-uv-set.ts'
import { restorePolygonsStep } from './restore-polygons.ts'
import { scaleToSize } from './scale-to-size.ts'
import { setNormals } from './set-normals.ts'
import { setPivot } from './set-pivot.ts'
import { setShading } from './set-shading.ts'
import { splitLongPolygons } from './split-long-polygons.ts'
import { splitNonManifold } from './split-non-manifold.ts'
import { splitParts } from './split-parts.ts'
import { stripCamerasAndLights } from './strip-cameras-and-lights.ts'
import { subdivide } from './subdivide.ts'
import { supportLoops } from './support-loops.ts'
import { toFloor } from './to-floor.ts'
import { triangulate } from './triangulate.ts'
import { turnFacesStep } from './turn-faces.ts'
import { weldBorders } from './weld-borders.ts'
import { weldByDistance } from './weld-by-distance.ts'

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
  dissolveTwoEdgePoints,
  // polygons
  turnFacesStep,
  subdivide,
  supportLoops,
  triangulate,
  restorePolygonsStep,
  pairTriangles,
  splitLongPolygons,
  mirrorPart,
  makeFaceGroups,
  // shading
  setShading,
  convertSmoothing,
  setNormals,
  // UVs
  renameUvSet,
  // parts
  splitParts,
  joinParts,
  keepOneTwin,
  groupUnderRoot,
  renameParts,
  cleanNames,
  removeHiddenParts,
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
  removeUnusedMaterials,
]

export const stepOf = (id: string): StepDescriptor | null => STEPS.find((step) => step.id === id) ?? null
