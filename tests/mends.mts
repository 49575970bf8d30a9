import { readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs'
import { join, basename, dirname } from 'node:path'
import { readPackage } from '../src/core/formats/package/read-package.ts'
import { runChecks, findingText } from '../src/core/checks/run-checks.ts'
import { runStep } from '../src/core/steps/run-steps.ts'
const walk=(d:string):string[]=>readdirSync(d).flatMap(n=>{const p=join(d,n);return statSync(p).isDirectory()?walk(p):[p]})
const root='/usr/share/assimp/models'
const files=walk(root).filter(f=>/\.(obj|fbx)$/i.test(f))
const sentences=new Map<string,string[]>()
let left=0
for(const f of files){ const dir=dirname(f)
 const beside=readdirSync(dir).filter(n=>/\.(mtl|png|jpg|tga|bmp)$/i.test(n)).map(n=>({name:n,bytes:new Uint8Array(readFileSync(join(dir,n)))}))
 let scene; try{ scene=readPackage([{name:basename(f),bytes:new Uint8Array(readFileSync(f))},...beside]).scene }catch(e){ continue }
 const polys=scene.meshes.reduce((a,m)=>a+m.faceOffsets.length-1,0); if(polys>60000) {console.log('skip',f,polys);continue}
 const note=(list:readonly any[],when:string)=>{for(const x of list){const k=x.check+'/'+x.problem; const t=findingText(x); const l=sentences.get(k)??[]; if(l.length<4&&!l.includes(t)) l.push(t); sentences.set(k,l)}}
 let found=runChecks(scene,{}); note(found,'before')
 const done=new Map<string,number>()
 for(let round=0; round<3; round++){
  const fixes=[...new Map(found.filter(x=>x.fix).map(x=>[JSON.stringify(x.fix),x])).values()]
  if(!fixes.length) break
  for(const x of fixes){ try{ const r=runStep(scene,{step:x.fix!.step,params:x.fix!.params??{}} as any); scene=r.scene; done.set(JSON.stringify(x.fix),(done.get(JSON.stringify(x.fix))??0)+1)}catch(e){ console.log(basename(f),x.check,x.problem,x.fix!.step,'REFUSED',String(e).slice(0,140)) } }
  found=runChecks(scene,{}); note(found,'after')
 }
 for(const x of found.filter(x=>x.fix)) {left++; console.log(f.slice(root.length), x.check,x.problem, x.node===null?'':scene.nodes[x.node]?.name, '|',findingText(x),'| still mended by',x.fix!.step, done.get(JSON.stringify(x.fix))??0)}
}
console.log('left',left)
writeFileSync('/tmp/pr/sentences.txt',[...sentences].sort().map(([k,l])=>k+'\n'+l.map(t=>'    '+t).join('\n')).join('\n'))
