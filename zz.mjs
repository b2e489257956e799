import { createHash } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { build } from 'vite'

const b = await build({
  root: '/work/main',
  configFile: false,
  logLevel: 'error',
  define: { 'process.env.NODE_ENV': '"production"' },
  build: {
    write: false,
    minify: false,
    lib: { entry: '/work/main/dist/live/start.js', formats: ['iife'], name: 'acuarelaLive', fileName: 'r' },
    rollupOptions: { output: { codeSplitting: false } },
  },
})
const code = (Array.isArray(b) ? b : [b])[0].output[0].code.replaceAll('</script', '<\\/script')
let h = readFileSync(process.argv[2], 'utf8')
const i = h.lastIndexOf('<script>') + 8,
  j = h.lastIndexOf('</script>')
h = h.slice(0, i) + code + h.slice(j)
h = h.replace(/'sha256-[^']+'/, "'sha256-" + createHash('sha256').update(code).digest('base64') + "'")
writeFileSync(process.argv[3], h)
