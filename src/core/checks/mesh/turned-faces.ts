import { orientOverWelds } from '../../mesh/welds/orient-over-welds.ts'
import { eachElement, groupedElements, type CheckDescriptor } from '../check.ts'

export const turnedFaces: CheckDescriptor = {
  id: 'turned-faces',
  area: 'mesh',
  scope: 'part',
  title: 'Turned polygons and shells inside out',
  why: 'A polygon seen from behind is a hole in a real-time engine and black when maps are baked.',
  reads: ['points', 'faceVertices', 'faceOffsets'],
  problems: {
    turned: {
      severity: 'error',
      text: '{count} [polygon|polygons] [is|are] turned against [its|their] neighbours.',
    },
    inward: {
      severity: 'error',
      text: '{count} [shell|shells] [is|are] inside out ({faces} [polygon|polygons|faces]).',
    },
    onesided: {
      severity: 'error',
      text: '{count} [shell|shells] [is|are] twisted into one side: [its|their] polygons can’t all agree.',
    },
  },
  run({ facts }, report) {
    const { against, faceShells, shellCount, inward, oneSided } = orientOverWelds(facts)
    const turned: number[] = []
    for (let face = 0; face < against.length; face++) if (against[face]) turned.push(face)
    const fix = { step: 'turn-faces', params: { mode: 'outward' } }
    if (turned.length)
      report({ problem: 'turned', count: turned.length, places: eachElement('faces', turned), fix })
    const twisted: number[][] = []
    const inside: number[][] = []
    if (inward.includes(1) || oneSided.includes(1)) {
      const faces: number[][] = Array.from({ length: shellCount }, () => [])
      for (let face = 0; face < faceShells.length; face++) faces[faceShells[face]!]!.push(face)
      faces.forEach((list, shell) => {
        if (oneSided[shell]) twisted.push(list)
        else if (inward[shell]) inside.push(list)
      })
    }
    if (inside.length)
      report({
        problem: 'inward',
        count: inside.length,
        parameters: { faces: inside.flat().length },
        places: groupedElements('faces', inside),
        fix,
      })
    if (twisted.length)
      report({ problem: 'onesided', count: twisted.length, places: groupedElements('faces', twisted) })
  },
}
