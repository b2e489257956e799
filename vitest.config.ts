import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'test/**/*.test.ts'],
    // Some tests start a browser or build an app: slow machines get time, a hang still ends.
    testTimeout: 60_000,
    hookTimeout: 120_000,
  },
})
