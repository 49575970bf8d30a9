import type { CheckDescriptor } from './check.ts'
import { bentPolygons } from './mesh/bent-polygons.ts'
import { brokenPoints } from './mesh/broken-points.ts'
import { camerasAndLights } from './scene/cameras-and-lights.ts'
import { duplicateFaces } from './mesh/duplicate-faces.ts'
import { flippedIslands } from './uvs/flipped-islands.ts'
import { hiddenFaces } from './mesh/hidden-faces.ts'
import { hiddenParts } from './scene/hidden-parts.ts'
import { inexpressibleHardEdges } from './shading/inexpressible-hard-edges.ts'
import { islandDistance } from './uvs/island-distance.ts'
import { islandsAgainstGroups } from './uvs/islands-against-groups.ts'
import { looseElements } from './mesh/loose-elements.ts'
import { mapContents } from './materials/map-contents.ts'
import { mapSizes } from './materials/map-sizes.ts'
import { missingMaps } from './materials/missing-maps.ts'
import { noRoot } from './scene/no-root.ts'
import { noUvs } from './uvs/no-uvs.ts'
import { nonManifold } from './mesh/non-manifold.ts'
import { normalsAgainstSmoothing } from './shading/normals-against-smoothing.ts'
import { notQuads } from './mesh/not-quads.ts'
import { onFloor } from './scene/on-floor.ts'
import { openBorders } from './mesh/open-borders.ts'
import { outsideTiles } from './uvs/outside-tiles.ts'
import { partNames } from './scene/part-names.ts'
import { pivots } from './scene/pivots.ts'
import { polygonCount } from './mesh/polygon-count.ts'
import { realSize } from './scene/real-size.ts'
import { seamsAndHardEdges } from './uvs/seams-and-hard-edges.ts'
import { sewingPanels } from './uvs/sewing-panels.ts'
import { severalMaterials } from './materials/several-materials.ts'
import { shadingExtremes } from './shading/shading-extremes.ts'
import { tJunctions } from './mesh/t-junctions.ts'
import { texelDensity } from './uvs/texel-density.ts'
import { tileUse } from './uvs/tile-use.ts'
import { tinyCuts } from './uvs/tiny-cuts.ts'
import { transforms } from './scene/transforms.ts'
import { turnedFaces } from './mesh/turned-faces.ts'
import { twins } from './mesh/twins.ts'
import { twoEdgePoints } from './mesh/two-edge-points.ts'
import { unassignedFaces } from './materials/unassigned-faces.ts'
import { unevenPolygons } from './mesh/uneven-polygons.ts'
import { unitAndAxes } from './scene/unit-and-axes.ts'
import { unusedMaterials } from './materials/unused-materials.ts'
import { unusedSmoothing } from './shading/unused-smoothing.ts'
import { unweldedPoints } from './mesh/unwelded-points.ts'
import { uvOverlaps } from './uvs/uv-overlaps.ts'
import { uvSetNames } from './uvs/uv-set-names.ts'
import { uvStretch } from './uvs/uv-stretch.ts'
import { zeroSize } from './mesh/zero-size.ts'
import { zeroUvFaces } from './uvs/zero-uv-faces.ts'

/** All checks, in the order in which they are listed. */
export const CHECKS: readonly CheckDescriptor[] = [
  // mesh
  // in the order in which they are best mended: a doubled polygon makes its edges non-manifold
  brokenPoints,
  duplicateFaces,
  zeroSize,
  nonManifold,
  turnedFaces,
  unweldedPoints,
  looseElements,
  tJunctions,
  twoEdgePoints,
  openBorders,
  hiddenFaces,
  bentPolygons,
  unevenPolygons,
  notQuads,
  polygonCount,
  twins,
  // UVs
  noUvs,
  outsideTiles,
  uvOverlaps,
  flippedIslands,
  zeroUvFaces,
  uvStretch,
  texelDensity,
  tileUse,
  islandDistance,
  tinyCuts,
  islandsAgainstGroups,
  sewingPanels,
  uvSetNames,
  seamsAndHardEdges,
  // shading
  normalsAgainstSmoothing,
  inexpressibleHardEdges,
  shadingExtremes,
  unusedSmoothing,
  // scene
  realSize,
  unitAndAxes,
  transforms,
  pivots,
  onFloor,
  noRoot,
  partNames,
  camerasAndLights,
  hiddenParts,
  // materials
  unassignedFaces,
  unusedMaterials,
  severalMaterials,
  missingMaps,
  mapSizes,
  mapContents,
]

/** The check of an id; null for none. */
export const checkOf = (id: string): CheckDescriptor | null => CHECKS.find((check) => check.id === id) ?? null
