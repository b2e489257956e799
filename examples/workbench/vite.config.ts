import { defineConfig } from 'vite'

// `acuarela` is found by its public name: this folder lies inside the package, which may import
// itself.
export default defineConfig(({ command }) => ({
  root: import.meta.dirname,
  base: './',
  // Also where a test builds the page: React's messages for developers are no part of it.
  define: command === 'build' ? { 'process.env.NODE_ENV': JSON.stringify('production') } : {},
  oxc: { jsx: { runtime: 'automatic' as const, development: command !== 'build' } },
  build: { outDir: 'dist', emptyOutDir: true, target: 'es2022' },
  worker: { format: 'es' as const },
}))
