import { build } from 'vite'
import { brotliCompressSync } from 'node:zlib'
for (const entry of process.argv.slice(2)) {
const r = await build({ logLevel:'error', configFile:false, root:'/work/main', build:{ write:false, minify:true, lib:{entry, formats:['es']}, target:'es2022' } })
const out = (Array.isArray(r)?r[0]:r).output
let t=0; for (const o of out) { const b=brotliCompressSync(o.code??o.source).length; t+=b }
console.log(entry, t, out.length, brotliCompressSync(out[0].code).length) }
