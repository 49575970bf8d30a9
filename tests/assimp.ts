/** Assimp, as npm's assimpjs has it in WebAssembly: what another reader makes of a file. */
import { createRequire } from 'node:module'

export interface AssimpNode {
  name: string
  /** Row-major. */
  transformation: number[]
  meshes?: number[]
  children?: AssimpNode[]
}
export interface AssimpScene {
  rootnode: AssimpNode
  meshes: {
    vertices: number[]
    normals: number[]
    texturecoords: number[][]
    faces: number[][]
    materialindex: number
  }[]
  materials: { properties: { key: string; value: unknown }[] }[]
}

interface Library {
  FileList: new () => { AddFile(name: string, bytes: Uint8Array): void }
  ConvertFileList(
    list: unknown,
    format: string,
  ): { IsSuccess(): boolean; GetErrorCode(): string; GetFile(at: number): { GetContent(): Uint8Array } }
}

/** A function that reads one file; @param name with the ending of its format. */
export async function loadAssimp(name: string): Promise<(bytes: Uint8Array) => AssimpScene> {
  const create = createRequire(import.meta.url)('assimpjs') as () => Promise<Library>
  const library = await create()
  return (bytes) => {
    const list = new library.FileList()
    list.AddFile(name, bytes)
    const result = library.ConvertFileList(list, 'assjson')
    if (!result.IsSuccess()) throw new Error(result.GetErrorCode())
    return JSON.parse(new TextDecoder().decode(result.GetFile(0).GetContent())) as AssimpScene
  }
}
