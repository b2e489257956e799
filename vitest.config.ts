import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'test/**/*.test.ts'],
    // Some tests start a browser or build an app: slow machines get time, a hang still ends.
    testTimeout: 300_000,
    // By itself vitest leaves one of two cores idle.
    maxWorkers: 2,
    // Importing changes nothing here, so that files may share what they load: a minute less.
    isolate: false,
    hookTimeout: 300_000,
  },
})
