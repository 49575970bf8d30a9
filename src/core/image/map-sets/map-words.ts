/**
 * Words that names of map files have for what a map is for, in small letters without marks between them. Common
 * practice; words of several languages where the trade uses them.
 */
import type { Slot } from '../../scene/material.ts'

export interface MapMeaning {
  readonly slot: Slot
  /** It shows the opposite: glossiness. */
  readonly inverted?: boolean
}

const LISTS: readonly (readonly [MapMeaning, string])[] = [
  [
    { slot: 'baseColor' },
    'basecolor basecolour basecol albedo diffuse diffusecolor diffusecolour diff dif color colour col bc bcol alb basemap ' +
      'grundfarbe farbe diffus couleur couleurdebase albédo colorbase colore coloredibase corbase cor цвет базовыйцвет ' +
      'ベースカラー 基础颜色 基本色 颜色 漫反射',
  ],
  [
    { slot: 'roughness' },
    'roughness rough rgh rou specularroughness rauheit rauigkeit rugosité rugosite rugosidad rugosidade ruvidità ruvidita ' +
      'шероховатость 粗さ ラフネス 粗糙度',
  ],
  [
    { slot: 'roughness', inverted: true },
    'glossiness gloss glossy gls smoothness smooth reflectionglossiness glanz brillance brillo lucentezza brilho глянец ' +
      '光沢 光泽度 光泽',
  ],
  [
    { slot: 'metalness' },
    'metalness metallic metallicness metal met mtl metall metallisch métal métallique metallique metalico metálico metallico ' +
      'металл металличность 金属 メタリック メタルネス 金属度',
  ],
  [
    { slot: 'normal' },
    'normal normals nrm nor norm nml normalmap tangentnormal normalen normale normales normali нормаль нормали 法線 ノーマル 法线',
  ],
  [
    { slot: 'displacement' },
    'displacement displace disp height hgt heightmap höhe hoehe verschiebung hauteur déplacement deplacement altura desplazamiento ' +
      'altezza spostamento deslocamento высота смещение 高さ ディスプレイスメント 高度 置换',
  ],
  [{ slot: 'bump' }, 'bump bumpmap bmp relief rilievo relevo рельеф バンプ 凹凸'],
  [
    { slot: 'occlusion' },
    'occlusion ambientocclusion ao occ ambocc mixedao umgebungsverdeckung verdeckung occlusionambiante oclusion oclusión ' +
      'oclusionambiental occlusione oclusão окклюзия アンビエントオクルージョン 环境光遮蔽',
  ],
  [
    { slot: 'opacity' },
    'opacity alpha mask opac alphamask cutout deckkraft opacité opacite opacidad opacità opacita opacidade ' +
      'непрозрачность 不透明度 アルファ',
  ],
  [
    { slot: 'opacity', inverted: true },
    'transparency transparenz transparence transparencia trasparenza прозрачность 透明度',
  ],
  [
    { slot: 'emissive' },
    'emission emissive emit emis emissivecolor emissioncolor selfillumination glow leuchten émission emisión emision emissão ' +
      'emissione свечение эмиссия エミッシブ 発光 自发光',
  ],
  [
    { slot: 'specular' },
    'specular spec spc specularcolor specularcolour reflection refl reflectioncolor spekular spéculaire speculaire especular ' +
      'speculare спекуляр スペキュラ 高光 镜面反射',
  ],
  [{ slot: 'specularWeight' }, 'specularweight specularlevel specularamount'],
  [{ slot: 'ior' }, 'ior refractiveindex fresnelior indexofrefraction brechungsindex'],
  [{ slot: 'transmission' }, 'transmission refraction transmissive transmissionweight refractioncolor'],
  [{ slot: 'subsurface' }, 'subsurface sss scattering scatteringweight translucency'],
  [{ slot: 'subsurfaceColor' }, 'subsurfacecolor sssc scatteringcolor translucencycolor'],
  [{ slot: 'clearcoat' }, 'coat clearcoat coatweight ccoat klarlack vernis'],
  [{ slot: 'clearcoatRoughness' }, 'coatroughness clearcoatroughness coatrough'],
  [{ slot: 'clearcoatRoughness', inverted: true }, 'coatglossiness clearcoatgloss coatgloss'],
  [{ slot: 'clearcoatNormal' }, 'coatnormal clearcoatnormal'],
  [{ slot: 'clearcoatColor' }, 'coatcolor coatcolour clearcoatcolor'],
  [{ slot: 'sheenColor' }, 'sheen sheencolor sheencolour fuzz fuzzcolor samt'],
  [{ slot: 'sheenRoughness' }, 'sheenroughness fuzzroughness'],
  [{ slot: 'anisotropy' }, 'anisotropy aniso anisotropylevel anisotropic'],
  [{ slot: 'anisotropyRotation' }, 'anisotropyangle anisotropyrotation anisorotation anisoangle'],
  [{ slot: 'thickness' }, 'thickness thick dicke épaisseur epaisseur'],
  [{ slot: 'iridescence' }, 'iridescence thinfilm'],
  [{ slot: 'id' }, 'id idmap matid materialid colorid colourid idmask maskid'],
]

/** What each word means. */
export const MAP_WORDS: ReadonlyMap<string, MapMeaning> = new Map(
  LISTS.flatMap(([meaning, words]) =>
    words.split(' ').map((word) => [word.normalize('NFC'), meaning] as const),
  ),
)

/** Words that are used for maps of other kinds as well. */
export const LOOSE_WORDS: ReadonlySet<string> = new Set(['mask', 'reflection', 'refl', 'glow', 'farbe'])

/** Endings of one letter; they count only where several maps of a set have such. */
export const MAP_LETTERS: ReadonlyMap<string, MapMeaning> = new Map([
  ['d', { slot: 'baseColor' }],
  ['b', { slot: 'baseColor' }],
  ['c', { slot: 'baseColor' }],
  ['n', { slot: 'normal' }],
  ['r', { slot: 'roughness' }],
  ['g', { slot: 'roughness', inverted: true }],
  ['m', { slot: 'metalness' }],
  ['s', { slot: 'specular' }],
  ['h', { slot: 'displacement' }],
  ['e', { slot: 'emissive' }],
  ['o', { slot: 'opacity' }],
])

/** What one channel of a packed map shows. */
export type ChannelMeaning = MapMeaning | null

const OCCLUSION: MapMeaning = { slot: 'occlusion' }
const ROUGHNESS: MapMeaning = { slot: 'roughness' }
const METALNESS: MapMeaning = { slot: 'metalness' }
const GLOSSINESS: MapMeaning = { slot: 'roughness', inverted: true }

/** Packed maps by a whole word: what red, green, blue and alpha show. */
export const PACKED_WORDS: ReadonlyMap<string, readonly ChannelMeaning[]> = new Map<
  string,
  readonly ChannelMeaning[]
>([
  ['occlusionroughnessmetallic', [OCCLUSION, ROUGHNESS, METALNESS]],
  ['occlusionroughnessmetalness', [OCCLUSION, ROUGHNESS, METALNESS]],
  ['aoroughnessmetallic', [OCCLUSION, ROUGHNESS, METALNESS]],
  ['aoroughmetal', [OCCLUSION, ROUGHNESS, METALNESS]],
  ['metallicroughness', [null, ROUGHNESS, METALNESS]],
  ['metalroughness', [null, ROUGHNESS, METALNESS]],
  ['roughnessmetallic', [null, ROUGHNESS, METALNESS]],
  ['metallicsmoothness', [METALNESS, null, null, GLOSSINESS]],
])

const LETTERS: Readonly<Record<string, MapMeaning>> = {
  o: OCCLUSION,
  a: OCCLUSION,
  r: ROUGHNESS,
  m: METALNESS,
  h: { slot: 'displacement' },
  g: GLOSSINESS,
  e: { slot: 'emissive' },
}

/** Three or four letters, each a channel: `orm`, `rma`, `mrao` (its two last letters are one word). */
export function packedByLetters(word: string): readonly ChannelMeaning[] | null {
  const known = PACKED_WORDS.get(word)
  if (known) return known
  const letters = word.replace('ao', 'o')
  if (letters.length < 3 || letters.length > 4) return null
  const channels = [...letters].map((letter) => LETTERS[letter])
  if (channels.some((channel) => !channel)) return null
  if (new Set(channels.map((channel) => channel!.slot)).size !== channels.length) return null
  // two of the usual three have to be among them, or it is a word of another kind ("hear", "gem")
  const usual = channels.filter((channel) =>
    ['occlusion', 'roughness', 'metalness'].includes(channel!.slot),
  ).length
  return usual >= 3 || (usual === 2 && channels.length === 3 && /^[ormahg]+$/.test(letters) && word !== 'arg')
    ? (channels as MapMeaning[])
    : null
}
