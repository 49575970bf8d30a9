import { faulty, mendAll } from './core/made-faults.ts'
const t=performance.now()
for (let s=1;s<=40;s++) { const t0=performance.now(); mendAll(faulty(s)); const d=performance.now()-t0; if (d>3000) console.log(s,Math.round(d)) }
console.log('total',performance.now()-t)
