import { defineConfig } from 'vite'

/** The parts of the engine that nearly every report needs, whichever exhibits and rules it has. */
const FIRST =
  /dist\/(?:report\/(?:layout|answer|model|bind)\/(?!since|kinds\/(?:moves|records|list))|rule\/(?:kinds|run)\/|summary\/(?:cells|memory|plan)\/|view\/model\/)/

/** What draws and patches the page in the middle, but for charts, and what it shares. */
const PAGE = new RegExp(
  `dist/(?:${[
    'view/html/(?:page|sheet|live-sheet|legend|strip|style|flow|cells|kinds/(?:grid|cards|words|records))',
    'view/model/(?:address|captions|card-parts|icon|parts|rows|sentence-parts|strip|width)',
    'view/(?:markup|chart/(?:trend|spark|text-width))',
    'live/(?:dom/(?:shadow-style|address|patch|pictures|reveal|tasks)|session/(?:port|page-patch))',
    'color/(?:color|pigments|ramp|spaces|theme)\\.',
    'style/(?:cell-style|icons)\\.',
    '(?:page|format|time)/',
  ].join('|')})`,
)

// `acuarela` is found by its public name: this folder lies inside the package, which may import
// itself.
export default defineConfig(({ command }) => ({
  root: import.meta.dirname,
  base: './',
  // Also where a test builds the page: React's messages for developers are no part of it.
  define: command === 'build' ? { 'process.env.NODE_ENV': JSON.stringify('production') } : {},
  oxc: { jsx: { runtime: 'automatic' as const, development: command !== 'build' } },
  build: {
    outDir: 'dist',
    emptyOutDir: true,
    target: 'es2022',
    // What is needed next is asked for by the page itself: lists of it in each file cost more.
    modulePreload: false,
    rolldownOptions: {
      output: { codeSplitting: { includeDependenciesRecursively: false, groups: [{ name: 'page', test: PAGE }] } },
    },
  },
  worker: {
    format: 'es' as const,
    // What every report needs is one file: a hundred small ones take longer, and more bytes.
    rolldownOptions: { output: { codeSplitting: { groups: [{ name: 'first', test: FIRST }] } } },
  },
}))
