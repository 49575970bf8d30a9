import { readFileSync } from 'node:fs'
import { basename } from 'node:path'
import { readPackage } from '../src/core/formats/package/read-package.ts'
import { runChecks, findingText } from '../src/core/checks/run-checks.ts'
import { runStep } from '../src/core/steps/run-steps.ts'
for(const f of process.argv.slice(2)){
 let scene=readPackage([{name:basename(f),bytes:new Uint8Array(readFileSync('/usr/share/assimp/models/'+f))}]).scene
 console.log('##',f)
 for(let round=0; round<3; round++){
  const found=runChecks(scene,{})
  const fixes=[...new Map(found.filter(x=>x.fix).map(x=>[JSON.stringify(x.fix),x])).values()]
  console.log(' round',round,found.filter(x=>x.fix).map(x=>x.check+'/'+x.problem+' '+x.count).join('; '))
  for(const x of fixes){ try{ const r=runStep(scene,{step:x.fix!.step,params:x.fix!.params??{}} as any); console.log('   ',x.fix!.step,JSON.stringify(x.fix!.params),'->',(r as any).report?.changedCount ?? (r as any).changedCount, JSON.stringify((r as any).report?.notes??(r as any).notes).slice(0,200)); scene=r.scene }catch(e){console.log('   ',x.fix!.step,String(e).slice(0,100))}}
 }
}
