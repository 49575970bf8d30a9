import { mendAll, faulty } from './core/made-faults.ts'
const [a,b]=process.argv.slice(2).map(Number)
for(let s=a!;s<b!;s++){ const t=Date.now(); process.stdout.write(`\r${s} `); const {left}=mendAll(faulty(s)); const d=Date.now()-t; if(d>3000||left.length) console.log(s,d,left) }
console.log('end')
