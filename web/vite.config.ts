import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { loadEnv } from 'vite';
import { defineConfig } from 'vitest/config';

export default defineConfig(({ mode }) => ({
  plugins: [tailwindcss(), sveltekit()],
  // Under test the components run as in a browser, not as on a server.
  resolve: mode === 'test' ? { conditions: ['browser'] } : {},
  // ./keen dev names the server; the address of the page stays the one the server is asked under.
  server: {
    // The table that both number formatters are held against.
    fs: { allow: ['.', '../docs', '../src/keen_tracer/core/tables'] },
    proxy: {
      '/api': {
        target: loadEnv(mode, '.', 'KEEN_')['KEEN_SERVER'] ?? 'http://127.0.0.1:8000',
        changeOrigin: false,
      },
    },
  },
  test: {
    // A test that needs a document says so in its first line.
    environment: 'node',
    css: true,
    // The tests keep nothing for one another; a process for each file would cost ten times theirs.
    isolate: false,
    include: ['src/**/*.test.ts'],
  },
}));
