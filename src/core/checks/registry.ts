import type { CheckDescriptor } from './check.ts'
import { bentPolygons } from './bent-polygons.ts'
import { brokenPoints } from './broken-points.ts'
import { camerasAndLights } from './cameras-and-lights.ts'
import { duplicateFaces } from './duplicate-faces.ts'
import { flippedIslands } from './flipped-islands.ts'
import { hiddenFaces } from './hidden-faces.ts'
import { hiddenParts } from './hidden-parts.ts'
import { inexpressibleHardEdges } from './inexpressible-hard-edges.ts'
import { islandDistance } from './island-distance.ts'
import { islandsAgainstGroups } from './islands-against-groups.ts'
import { looseElements } from './loose-elements.ts'
import { mapSizes } from './map-sizes.ts'
import { missingMaps } from './missing-maps.ts'
import { noRoot } from './no-root.ts'
import { noUvs } from './no-uvs.ts'
import { nonManifold } from './non-manifold.ts'
import { normalsAgainstSmoothing } from './normals-against-smoothing.ts'
import { notQuads } from './not-quads.ts'
import { onFloor } from './on-floor.ts'
import { openBorders } from './open-borders.ts'
import { outsideTiles } from './outside-tiles.ts'
import { partNames } from './part-names.ts'
import { pivots } from './pivots.ts'
import { polygonCount } from './polygon-count.ts'
import { realSize } from './real-size.ts'
import { seamsAndHardEdges } from './seams-and-hard-edges.ts'
import { severalMaterials } from './several-materials.ts'
import { shadingExtremes } from './shading-extremes.ts'
import { tJunctions } from './t-junctions.ts'
import { texelDensity } from './texel-density.ts'
import { tileUse } from './tile-use.ts'
import { tinyCuts } from './tiny-cuts.ts'
import { transforms } from './transforms.ts'
import { turnedFaces } from './turned-faces.ts'
import { twins } from './twins.ts'
import { twoEdgePoints } from './two-edge-points.ts'
import { unassignedFaces } from './unassigned-faces.ts'
import { unevenPolygons } from './uneven-polygons.ts'
import { unitAndAxes } from './unit-and-axes.ts'
import { unusedMaterials } from './unused-materials.ts'
import { unusedSmoothing } from './unused-smoothing.ts'
import { unweldedPoints } from './unwelded-points.ts'
import { uvOverlaps } from './uv-overlaps.ts'
import { uvSetNames } from './uv-set-names.ts'
import { uvStretch } from './uv-stretch.ts'
import { zeroSize } from './zero-size.ts'
import { zeroUvFaces } from './zero-uv-faces.ts'

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
]

export const checkOf = (id: string): CheckDescriptor | null => CHECKS.find((check) => check.id === id) ?? null
