import { mergeConfig } from 'vitest/config'

import vite from './vite.config.ts'

export default mergeConfig(vite, {
  test: {
    environment: 'jsdom',
    include: ['src/**/*.test.ts', 'house.test.ts'],
    setupFiles: ['src/test/setup.ts'],
  },
})
