import { defineConfig } from 'vite'

// `acuarela` is found by its public name: this folder lies inside the package, which may import
// itself.
export default defineConfig({
  root: import.meta.dirname,
  base: './',
  build: { outDir: 'dist', emptyOutDir: true },
})
