import { build } from 'vite'
import { gzipSync, brotliCompressSync } from 'node:zlib'
const root='/work/main'
const core=new Set()
for (const format of ['cjs']) {
const b = await build({root,configFile:false,logLevel:'error',define:{'process.env.NODE_ENV':'"production"'},build:{write:false,minify:true,modulePreload:false,rollupOptions:{input:root+'/dist/live/start.js',output:{format,minify:true,entryFileNames:'[name].js',chunkFileNames:'[name].js',exports:'named',codeSplitting:{groups:[{name:'core',test:(id)=>core.has(id)}]}}}},
plugins:[{name:'x',enforce:'pre',load:id=>id.endsWith('culori/src/_prepare.js')?'export default (color) => color':null,buildEnd(){const go=id=>{if(core.has(id))return;core.add(id);for(const n of this.getModuleInfo(id).importedIds)go(n)};for(const id of this.getModuleIds())if(this.getModuleInfo(id).isEntry)go(id)}}]})
const out=(Array.isArray(b)?b[0]:b).output
console.log('==',format, core.size)
let all=''
for (const c of out) if(c.type==='chunk') {console.log(c.fileName, c.code.length, gzipSync(c.code,{level:9}).length, brotliCompressSync(c.code).length, c.facadeModuleId?.replace(root,''), 'imports',c.imports.join(' '), 'dyn', c.dynamicImports.join(' '));}
const pick=(...n)=>out.filter(c=>n.includes(c.fileName.replace(/\.js$/,''))).map(c=>c.code).join('\n')
const show=(n,c)=>console.log(n,c.length,gzipSync(c,{level:9}).length,brotliCompressSync(c).length)
const base=['start','core','rolldown-runtime']
show('core',pick(...base))
console.log(out.map(c=>c.fileName+' '+Object.keys(c.modules??{}).length).join(' | '))
const e=out.find(c=>c.isEntry); console.log(e.code.slice(0,1000));
for(const c of out) if(c.type==='chunk'&&!['core.js','chart2.js'].includes(c.fileName)) console.log(c.fileName,Object.keys(c.modules).map(k=>k.replace(root,'')).join(' '))
}
